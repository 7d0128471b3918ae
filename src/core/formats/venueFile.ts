/**
 * The venue file: a zip with venue.json, and a JPEG for each picture under pictures/. Open, without
 * passwords; its JSON Schema is docs/schemas/venue.schema.json.
 */
import * as v from 'valibot'
import { CameraSettings } from '../cameras/connection'
import { CommandSet } from '../commands/commandSet'
import { BoardButton, ClockStart, Cue, HelperDesk, RecordedMove, Tour } from '../cues/show'
import { HeadProfile } from '../heads/profile'
import { Device } from '../messages/device'
import { Guard } from '../orders/guardSettings'
import { Look } from '../picture/looks'
import { Words } from '../presets/board'
import { PresetPose } from '../presets/pose'
import {
  MemoryNumber,
  PRESET_SAID,
  PRESET_STORED,
  PresetName,
  PresetNumber,
  USUAL_SAID,
} from '../presets/preset'
import { RoomKept } from '../room/room'
import { GridSeat, SeatGrid } from '../survey/seatGrid'
import { SurveyAbout, SurveyPiece, SurveyShot } from '../survey/surveys'
import { TallySettings } from '../tally/sources'

export const VENUE_FORMAT = 'steady-heron/venue'
export const VENUE_VERSION = 1

const Uuid = v.pipe(v.string(), v.uuid())
const Name = PresetName
const Finite = v.pipe(v.number(), v.finite())
const Pose = v.object({
  panDeg: v.nullable(v.pipe(Finite, v.minValue(-720), v.maxValue(720))),
  tiltDeg: v.nullable(v.pipe(Finite, v.minValue(-360), v.maxValue(360))),
  zoom: v.nullable(Finite),
  focusAuto: PresetPose.entries.focusAuto,
  focus: v.nullable(Finite),
  encoder: v.optional(v.nullable(v.object({ pan: Finite, tilt: Finite })), null),
})

export const PICTURE_NAME = /^pictures\/[0-9a-f-]{36}\.jpg$/

const PictureName = v.pipe(v.string(), v.regex(PICTURE_NAME))

const FilePreset = v.object({
  id: Uuid,
  cameraId: Uuid,
  number: PresetNumber,
  order: Finite,
  ...PRESET_SAID,
  // Files of older versions have fewer fields.
  section: v.optional(PRESET_SAID.section, USUAL_SAID.section),
  mark: v.optional(PRESET_SAID.mark, USUAL_SAID.mark),
  pace: v.optional(PRESET_SAID.pace, USUAL_SAID.pace),
  parts: v.optional(v.nullable(PRESET_SAID.parts), null),
  look: v.optional(PRESET_SAID.look, USUAL_SAID.look),
  /** Place on the board of pinned presets; null if it is not pinned. */
  pinned: v.optional(v.nullable(Finite), null),
  memory: v.optional(v.nullable(MemoryNumber), null),
  pose: v.nullable(Pose),
  light: v.optional(PRESET_STORED.light, null),
  /** The name of its JPEG in the zip. */
  picture: v.nullable(PictureName),
  /** It was cut out of a survey. Left out by older versions. */
  surveyed: v.optional(v.boolean(), false),
  storedAt: v.pipe(v.string(), v.isoTimestamp()),
})
export type FilePreset = v.InferOutput<typeof FilePreset>

export const FileCamera = v.object({ id: Uuid, order: Finite, ...CameraSettings.entries })
export type FileCamera = v.InferOutput<typeof FileCamera>

const part = <E extends v.ObjectEntries>(entries: E, most: number) =>
  v.optional(v.pipe(v.array(v.object({ id: Uuid, order: Finite, ...entries })), v.maxLength(most)), [])

/** What the event is run by. */
export const FileShow = v.object({
  cues: part(Cue.entries, 2000),
  tours: part(Tour.entries, 500),
  moves: part(RecordedMove.entries, 500),
  starts: part(ClockStart.entries, 500),
  buttons: part(BoardButton.entries, 500),
  looks: part(Look.entries, 500),
  desks: part(HelperDesk.entries, 200),
})
export type FileShow = v.InferOutput<typeof FileShow>

const FileSurvey = v.object({
  cameraId: Uuid,
  takenAt: v.pipe(v.string(), v.isoTimestamp()),
  ...SurveyAbout.entries,
  /** The pictures that it is made of. */
  shots: v.pipe(v.array(v.object({ ...SurveyShot.entries, picture: PictureName })), v.maxLength(2000)),
  /** Its map, piece by piece. */
  pieces: v.pipe(v.array(v.object({ ...SurveyPiece.entries, picture: PictureName })), v.maxLength(5000)),
})
export type FileSurvey = v.InferOutput<typeof FileSurvey>

const FileRoom = v.object({
  ...RoomKept.entries,
  picture: v.nullable(
    v.object({
      name: PictureName,
      width: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(10_000)),
      height: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(10_000)),
    }),
  ),
})
export type FileRoom = v.InferOutput<typeof FileRoom>

const FileEvent = v.object({
  id: Uuid,
  name: Name,
  open: v.boolean(),
  words: v.optional(Words, []),
  guard: v.optional(v.nullable(Guard), null),
  presets: v.pipe(v.array(FilePreset), v.maxLength(20_000)),
  /** Left out by older versions: what is there stays. */
  show: v.optional(v.nullable(FileShow), null),
  /** What its cameras photographed of all they can reach. Left out by older versions: what is there stays. */
  surveys: v.optional(v.nullable(v.pipe(v.array(FileSurvey), v.maxLength(500))), null),
  /** Blocks of seats. Left out by older versions: what is there stays. */
  grids: v.optional(
    v.pipe(
      v.array(
        v.object({
          id: Uuid,
          cameraId: Uuid,
          section: PRESET_SAID.section,
          grid: SeatGrid,
          seats: v.pipe(v.array(GridSeat), v.maxLength(600)),
        }),
      ),
      v.maxLength(200),
    ),
    [],
  ),
  /** Where its cameras stand. Left out by older versions: what is there stays. */
  room: v.optional(v.nullable(FileRoom), null),
})
export type FileEvent = v.InferOutput<typeof FileEvent>

/** Without the checks between its parts, which a JSON Schema cannot express. */
export const VenueShape = v.object({
  format: v.literal(VENUE_FORMAT),
  version: v.literal(VENUE_VERSION),
  venue: v.object({
    id: Uuid,
    name: Name,
    timeZone: v.optional(v.nullable(v.pipe(v.string(), v.maxLength(60))), null),
  }),
  cameras: v.pipe(v.array(FileCamera), v.maxLength(500)),
  commandSets: v.pipe(v.array(CommandSet), v.maxLength(200)),
  headProfiles: v.optional(v.pipe(v.array(HeadProfile), v.maxLength(200)), []),
  /** Left out by older versions: what is there stays. */
  tally: v.optional(v.nullable(TallySettings), null),
  /** Without their secrets. Left out by older versions: what is there stays. */
  devices: v.optional(
    v.nullable(v.pipe(v.array(v.object({ id: Uuid, ...Device.entries })), v.maxLength(200))),
    null,
  ),
  events: v.pipe(v.array(FileEvent), v.maxLength(500)),
})
export type VenueFile = v.InferOutput<typeof VenueShape>

/** The names of all its pictures, each as often as it is shown. */
export const picturesIn = ({ events }: Pick<VenueFile, 'events'>): string[] =>
  events.flatMap(({ presets, surveys, room }) => [
    ...presets.flatMap(({ picture }) => picture ?? []),
    ...(surveys ?? []).flatMap(({ shots, pieces }) => [...shots, ...pieces].map(({ picture }) => picture)),
    ...(room?.picture ? [room.picture.name] : []),
  ])

/** Why a file is refused, in a sentence for the operator. */
export class FileRefused extends Error {}

const unique = (values: readonly unknown[]) => new Set(values).size === values.length

/** What a schema cannot say: that names are unique, and that every reference leads somewhere. */
function checkWhole(file: VenueFile): void {
  const { cameras, events, commandSets } = file
  const fail = (what: string) => {
    throw new FileRefused(`This venue file is damaged: ${what}.`)
  }
  const cameraIds = new Set(cameras.map((c) => c.id))
  const presets = events.flatMap((e) => e.presets)
  if (cameraIds.size !== cameras.length) fail('two cameras are the same')
  if (!unique(cameras.map((c) => c.number))) fail('two cameras have the same number')
  if (!unique(events.map((e) => e.id))) fail('two events are the same')
  if (!unique(presets.map((p) => p.id))) fail('two presets are the same')
  if (!unique(commandSets.map((s) => s.id))) fail('two command sets are the same')
  if (!unique(file.headProfiles.map((p) => p.id))) fail('two head profiles are the same')
  if (presets.some((p) => !cameraIds.has(p.cameraId))) fail('a preset belongs to no camera')
  if (events.some((e) => e.grids.some((g) => !cameraIds.has(g.cameraId))))
    fail('a seat grid belongs to no camera')
  if (!unique(events.flatMap((e) => e.grids.map((g) => g.id)))) fail('two seat grids are the same')
  if (events.some((e) => e.surveys?.some((s) => !cameraIds.has(s.cameraId))))
    fail('a survey belongs to no camera')
  for (const e of events) {
    if (!unique((e.surveys ?? []).map((s) => s.cameraId))) fail('a camera has two surveys in an event')
    if (!unique(e.presets.map((p) => `${p.cameraId} ${p.number}`)))
      fail('two presets of a camera have the same number')
  }
}

/** @throws FileRefused */
export function parseVenueJson(text: string): VenueFile {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    throw new FileRefused('This venue file is damaged: its venue.json cannot be read.')
  }
  const head = v.safeParse(v.object({ format: v.string(), version: v.number() }), json)
  if (!head.success || head.output.format !== VENUE_FORMAT)
    throw new FileRefused('This is no venue file of Steady Heron.')
  if (head.output.version > VENUE_VERSION) {
    throw new FileRefused(
      'This venue file was made by a newer version of Steady Heron. Bring this one up to date first.',
    )
  }
  const parsed = v.safeParse(VenueShape, json)
  if (!parsed.success) {
    const [issue] = parsed.issues
    const where = v.getDotPath(issue) ?? 'somewhere'
    throw new FileRefused(`This venue file is damaged: at ${where}, ${issue.message}`)
  }
  checkWhole(parsed.output)
  return parsed.output
}
