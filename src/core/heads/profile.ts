/**
 * A head profile: data that describes a head and its lens. Ranges in degrees, speeds in degrees per
 * second as measured for each speed step (index 0 is step 1), zoom speeds in zoom units per second.
 */
import * as v from 'valibot'
import type { PresetPose, Tolerance } from '../presets/pose'
import { type PositionFormat, USUAL_POSITIONS } from '../visca/packet'
import { hex, NamedControl } from './namedControls'
import { PictureUse } from './pictureControls'

export const PROFILE_FORMAT = 'steady-heron/head-profile'

const positive = (what: string) => v.pipe(v.number(), v.finite(), v.gtValue(0, `${what} must be above 0.`))
const Finite = v.pipe(v.number(), v.finite())
const Deg = v.pipe(Finite, v.minValue(-720), v.maxValue(720))
const Whole = v.pipe(v.number(), v.integer())
const flag = () => v.optional(v.boolean(), false)

const AxisShape = v.object({
  minDeg: Deg,
  maxDeg: Deg,
  /** The head's own position steps in one degree. */
  unitsPerDeg: positive('Steps per degree'),
  /** The position that it reports at 0°. */
  zeroUnits: v.optional(Whole, 0),
  /** Its positions grow to the left, or downwards. */
  reversed: flag(),
  /** A drive to the right turns it left, or one up turns it down. */
  drivesReversed: flag(),
  /** Nibbles of a position on the wire. */
  nibbles: v.optional(v.picklist([4, 5]), 4),
  speedsDegPerSec: v.pipe(v.array(positive('A speed')), v.minLength(1), v.maxLength(64)),
  accelDegPerSec2: positive('Acceleration'),
})
const Axis = v.pipe(
  AxisShape,
  v.check((axis) => axis.minDeg < axis.maxDeg, 'The lower end must lie below the upper one.'),
)

const BendTerm = v.pipe(Finite, v.minValue(-0.5), v.maxValue(0.5))

const Curve = v.pipe(
  v.array(v.tuple([Finite, positive('A focal length')])),
  v.minLength(2),
  v.maxLength(64),
  v.check(
    (points) => points.every((p, i) => i === 0 || p[0] > points[i - 1]![0]),
    'Zoom positions must rise.',
  ),
)

/** What some heads lack although the standard has it. */
export const LACKS = [
  'power',
  'home',
  'focus',
  'focusMode',
  'onePushFocus',
  'limits',
  'panTiltPosition',
  'zoomPosition',
] as const

const Memory = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(255))

export const HeadProfile = v.object({
  id: v.pipe(v.string(), v.regex(/^[a-z0-9][a-z0-9-]{0,63}$/, 'Small letters, digits and dashes.')),
  name: v.pipe(v.string(), v.trim(), v.minLength(1, 'Give the profile a name.'), v.maxLength(60)),
  pan: Axis,
  tilt: Axis,
  lens: v.object({
    sensorWidthMm: positive('The width of the sensor'),
    aspect: positive('The shape of the picture'),
    zoomCurve: Curve,
    /** Beyond the tele end it enlarges digitally, up to this position and by this factor. */
    digital: v.optional(v.object({ to: Finite, factor: v.pipe(v.number(), v.gtValue(1)) })),
    /** How it bends straight lines: r (1 + k1 r² + k2 r⁴), r the tangent of the angle from the axis. */
    bend: v.optional(v.tuple([BendTerm, BendTerm])),
  }),
  /** For the variable drive steps 0..7. */
  zoomSpeedsPerSec: v.pipe(v.array(positive('A zoom speed')), v.length(8)),
  /** How fast an absolute zoom runs. */
  zoomTravelPerSec: positive('The speed of a zoom move'),
  focus: v.object({ near: Finite, far: Finite }),
  /** From an order to the motion that follows it, s. */
  delaySeconds: v.optional(v.pipe(v.number(), v.minValue(0), v.maxValue(2)), 0.03),
  /** How old a position is when it is reported, s. */
  reportLagSeconds: v.optional(v.pipe(v.number(), v.minValue(0), v.maxValue(2)), 0),
  /** How fast the zoom motor gains speed, and how gently it is to be braked before an end: units per s². */
  zoomAccelPerSec2: v.optional(positive('Acceleration'), 60_000),
  zoomBrakePerSec2: v.optional(positive('Braking'), 12_000),
  /** How fast the focus motor gains speed, units per s². */
  focusAccelPerSec2: v.optional(positive('Acceleration'), 60_000),
  memories: Memory,
  /** Its memories are numbered from this on the wire. */
  memoryOffset: v.optional(v.picklist([0, 1]), 0),
  /** Memories, as the wire has them, that open its menu or start something: never stored, never recalled. */
  reservedSlots: v.optional(v.pipe(v.array(v.object({ from: Memory, to: Memory })), v.maxLength(20)), []),
  /** Least time between two packets, stops apart, ms. */
  gapMs: v.optional(v.pipe(v.number(), v.minValue(0), v.maxValue(200)), 33),
  /** A fixed byte that stands in the place of the tilt speed in a move to a position. */
  secondSpeed: v.optional(v.pipe(Whole, v.minValue(0), v.maxValue(0x7f))),
  /** Each drive packet starts its acceleration anew, so its steps must change rarely. */
  restartsRamp: flag(),
  /** Sets how fast it goes to its memories, where that is a setting of its own: `{value:x2}` is the step. */
  memorySpeed: v.optional(
    v.object({ command: hex(['value']), max: v.pipe(Whole, v.minValue(1), v.maxValue(255)) }),
  ),
  /** Which commands switch its tally lamp; `ask` finds out by what it refuses. */
  tally: v.optional(v.picklist(['ask', 'lamp', 'lampAndGreen', 'states', 'none']), 'ask'),
  /** Which command enters a line of its own menu. */
  menu: v.optional(v.picklist(['none', 'enter7E', 'enter06']), 'enter7E'),
  lacks: v.optional(v.pipe(v.array(v.picklist(LACKS)), v.maxLength(LACKS.length)), []),
  /** It takes a new target while it still moves to another, without stopping between. */
  retargets: flag(),
  /**
   * How a move that takes a given time is sent: followed by velocity, or as one absolute order with a speed, for
   * heads that do those well.
   */
  moves: v.optional(v.picklist(['followed', 'absolute']), 'followed'),
  controls: v.optional(v.pipe(v.array(NamedControl), v.maxLength(100)), []),
  /** Which of the usual picture settings it has; if this is missing, those that it answers to. */
  picture: v.optional(v.pipe(v.array(PictureUse), v.maxLength(40))),
  /** The maker and the model in the version that it answers. */
  answers: v.optional(v.object({ maker: Whole, model: Whole })),
})

export type HeadProfile = v.InferOutput<typeof HeadProfile>
export type AxisProfile = HeadProfile['pan']

/** As a file, with its format. */
export const HeadProfileFile = v.object({
  format: v.literal(PROFILE_FORMAT),
  version: v.literal(1),
  ...HeadProfile.entries,
})

/** Degrees to the head's own steps; beyond its range to the end of it. */
export function degToUnits(axis: AxisProfile, deg: number): number {
  const inside = Math.min(axis.maxDeg, Math.max(axis.minDeg, deg))
  return axis.zeroUnits + Math.round(inside * axis.unitsPerDeg) * (axis.reversed ? -1 : 1)
}

/** Degrees to the head's own steps, also beyond its ends. */
export const unitsOf = (axis: AxisProfile, deg: number): number =>
  axis.zeroUnits + Math.round(deg * axis.unitsPerDeg) * (axis.reversed ? -1 : 1)

/** The head's own steps to degrees. */
export function unitsToDeg(axis: AxisProfile, units: number): number {
  return ((units - axis.zeroUnits) / axis.unitsPerDeg) * (axis.reversed ? -1 : 1)
}

/** Top speed of an axis, degrees per second. */
export function topSpeed(axis: AxisProfile): number {
  return axis.speedsDegPerSec[axis.speedsDegPerSec.length - 1]!
}

export const lacks = (profile: HeadProfile, what: (typeof LACKS)[number]): boolean =>
  profile.lacks.includes(what)

/** The number of a memory on the wire; null if the head keeps it for itself. @param number from 1 */
export function slotOf(
  { memoryOffset, reservedSlots, memories }: HeadProfile,
  number: number,
): number | null {
  const slot = number - 1 + memoryOffset
  if (number < 1 || number > memories) return null
  return reservedSlots.some(({ from, to }) => slot >= from && slot <= to) ? null : slot
}

export function positionFormat({ pan, tilt, secondSpeed }: HeadProfile): PositionFormat {
  return { ...USUAL_POSITIONS, panNibbles: pan.nibbles, tiltNibbles: tilt.nibbles, secondSpeed }
}

/** Further than any head turns, in whatever a wrong scale makes of it, degrees. */
const OPEN_DEG = 100_000

/** The same head without ends, since it is not known whether the profile describes it. */
export function opened(profile: HeadProfile): HeadProfile {
  const ends = { minDeg: -OPEN_DEG, maxDeg: OPEN_DEG }
  return { ...profile, pan: { ...profile.pan, ...ends }, tilt: { ...profile.tilt, ...ends } }
}

/** A pose that is turned by so much, also as the head counts, degrees. */
export function turnedBy<P extends PresetPose>(
  profile: HeadProfile,
  pose: P,
  turn: { panDeg: number; tiltDeg: number },
): P {
  const steps = (axis: AxisProfile, deg: number) =>
    Math.round(deg * axis.unitsPerDeg) * (axis.reversed ? -1 : 1)
  return {
    ...pose,
    panDeg: pose.panDeg === null ? null : pose.panDeg + turn.panDeg,
    tiltDeg: pose.tiltDeg === null ? null : pose.tiltDeg + turn.tiltDeg,
    encoder: pose.encoder && {
      pan: pose.encoder.pan + steps(profile.pan, turn.panDeg),
      tilt: pose.encoder.tilt + steps(profile.tilt, turn.tiltDeg),
    },
  }
}

const HERE = { deg: 0.1, zoomShare: 0.004, steps: 3 }

/** Within this of a goal it has arrived: heads stop one or two steps beside it. */
export function arrivalOf({ pan, tilt, lens }: HeadProfile): Tolerance {
  const curve = lens.zoomCurve
  const range = curve[curve.length - 1]![0] - curve[0]![0]
  return {
    deg: Math.max(HERE.deg, HERE.steps / pan.unitsPerDeg, HERE.steps / tilt.unitsPerDeg),
    zoom: Math.max(HERE.steps, HERE.zoomShare * range),
  }
}
