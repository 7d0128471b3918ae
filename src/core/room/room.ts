/** The room that several cameras stand in: places that were touched in each of them, and what follows from that. */
import * as v from 'valibot'

const Deg = v.pipe(v.number(), v.minValue(-720), v.maxValue(720))
const Id = v.pipe(v.string(), v.minLength(1), v.maxLength(64))
const Metres = v.pipe(v.number(), v.minValue(-10_000), v.maxValue(10_000))

export const MOST_POINTS = 60

/** Where a camera sees a point, as its operator has it. */
export const Mark = v.object({ cameraId: Id, panDeg: Deg, tiltDeg: Deg })
export type Mark = v.InferOutput<typeof Mark>

export const RoomPoint = v.object({
  id: Id,
  name: v.pipe(v.string(), v.trim(), v.maxLength(40)),
  marks: v.pipe(v.array(Mark), v.maxLength(64)),
})
export type RoomPoint = v.InferOutput<typeof RoomPoint>

/** An end of something that was measured: a camera or a point. */
export const Spot = v.object({ kind: v.picklist(['camera', 'point']), id: Id })
export type Spot = v.InferOutput<typeof Spot>

/** How far two spots are from each other; gives the room its size. */
export const Length = v.object({
  from: Spot,
  to: Spot,
  metres: v.pipe(v.number(), v.gtValue(0), v.maxValue(1000)),
  /** Only how much higher one is than the other. */
  upright: v.boolean(),
})
export type Length = v.InferOutput<typeof Length>

export const RoomMarks = v.object({
  points: v.pipe(v.array(RoomPoint), v.maxLength(MOST_POINTS)),
  length: v.nullable(Length),
})
export type RoomMarks = v.InferOutput<typeof RoomMarks>

/** x to the right, y up, z ahead, in metres, or in units of their own where nothing was measured. */
export const Place = v.tuple([Metres, Metres, Metres])
export type Place = v.InferOutput<typeof Place>

export const PlacedCamera = v.object({
  cameraId: Id,
  at: Place,
  /** Where its pan 0 looks, clockwise from z as seen from above, and how far it stands out of level. */
  headingDeg: Deg,
  pitchDeg: Deg,
  rollDeg: Deg,
  /** One standard deviation of its place; null for the one from which the others are told. */
  sigma: v.nullable(v.number()),
})
export type PlacedCamera = v.InferOutput<typeof PlacedCamera>

export const RoomSolved = v.object({
  /** Is a unit a metre? */
  measured: v.boolean(),
  cameras: v.array(PlacedCamera),
  points: v.array(v.object({ pointId: Id, at: Place })),
  /** How far each touch is from where its point is by all the others, degrees. */
  off: v.array(v.object({ pointId: Id, cameraId: Id, deg: v.number() })),
  /** Cameras that could not be placed, with how many points they share with those that are. */
  left: v.array(v.object({ cameraId: Id, shares: v.number() })),
})
export type RoomSolved = v.InferOutput<typeof RoomSolved>

/** So many points two cameras must share. */
export const LEAST_SHARED = 4

const Share = v.pipe(v.number(), v.minValue(0), v.maxValue(1))
/** A spot in the plan's picture, 0..1 from its left and its upper edge. */
const OnPicture = { u: Share, v: Share }

/** All that is kept of a room but what is computed. */
export const RoomKept = v.object({
  ...RoomMarks.entries,
  /** Two spots of the room that were touched in the picture of its plan: they lay one over the other. */
  pins: v.pipe(v.array(v.object({ spot: Spot, ...OnPicture })), v.maxLength(2)),
  /** Presets that were placed in the picture by hand. */
  placed: v.pipe(v.array(v.object({ presetId: Id, ...OnPicture })), v.maxLength(2000)),
})
export type RoomKept = v.InferOutput<typeof RoomKept>
export const NO_ROOM: RoomKept = { points: [], length: null, pins: [], placed: [] }

export const PlanPicture = v.object({
  /** Changes with the picture. */
  tag: v.string(),
  width: v.number(),
  height: v.number(),
})
export type PlanPicture = v.InferOutput<typeof PlanPicture>

export const RoomView = v.object({
  /** Rises with each change. */
  version: v.number(),
  ...RoomKept.entries,
  /** Null while no two cameras share enough points. */
  solved: v.nullable(RoomSolved),
  picture: v.nullable(PlanPicture),
})
export type RoomView = v.InferOutput<typeof RoomView>
