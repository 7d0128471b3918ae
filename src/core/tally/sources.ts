/** Where a venue's tally comes from, and what its packets mean. */
import * as v from 'valibot'
import type { Colour, Signal } from './signal'
import { NO_SWITCHER, Switcher } from './switcher'

export const TALLY_STATES = ['program', 'preview', 'off', 'unknown'] as const
export const TallyState = v.picklist(TALLY_STATES)
export type TallyState = v.InferOutput<typeof TallyState>

/** Of one camera. */
export const Tally = v.object({
  state: TallyState,
  /** Milliseconds since 1970. */
  sinceMs: v.number(),
  /** The id of the source that says so; null where none is asked. */
  source: v.nullable(v.string()),
})
export type Tally = v.InferOutput<typeof Tally>

/** What is treated as on air: also what is not known. */
export const countsAsOnAir = (state: TallyState): boolean => state === 'program' || state === 'unknown'

const Port = v.pipe(v.number(), v.integer(), v.minValue(1024), v.maxValue(65535))
const Lamp = v.picklist([1, 2, 3, 4])
const LampOf5 = v.picklist(['any', 'left', 'text', 'right'])
const ColourOf5 = v.picklist(['any', 'red', 'green', 'amber'])
const Shown = v.object({ lamp: LampOf5, colour: ColourOf5 })
const Template = v.pipe(v.string(), v.trim(), v.startsWith('/'), v.maxLength(120))

const common = {
  id: v.pipe(v.string(), v.regex(/^[a-z0-9-]{1,40}$/)),
  name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(40)),
  enabled: v.boolean(),
  /** Address of the source (a display's, or an input's name) -> id of the camera. */
  cameras: v.record(v.pipe(v.string(), v.maxLength(60)), v.pipe(v.string(), v.uuid())),
  /** Silent for so long means that nothing is known; null: as its own rhythm says, if it has one. */
  silentAfterSeconds: v.nullable(v.pipe(v.number(), v.minValue(0.5), v.maxValue(600))),
}
/** Which of its four lamps mean what. */
const tsl31 = { program: Lamp, preview: Lamp }
const tsl5 = { program: Shown, preview: Shown }

export const TallySource = v.variant('kind', [
  v.object({ kind: v.literal('tsl31-udp'), port: Port, ...common, ...tsl31 }),
  v.object({
    kind: v.literal('tsl31-serial'),
    path: v.pipe(v.string(), v.startsWith('/'), v.maxLength(200)),
    ...common,
    ...tsl31,
  }),
  v.object({ kind: v.literal('tsl5-udp'), port: Port, ...common, ...tsl5 }),
  v.object({ kind: v.literal('tsl5-tcp'), port: Port, ...common, ...tsl5 }),
  /**
   * `{input}` in a path stands for the input's name, and the argument says whether it is lit. Without it the
   * argument names the one input that is lit, and all others are not.
   */
  v.object({ kind: v.literal('osc-udp'), port: Port, ...common, program: Template, preview: Template }),
])
export type TallySource = v.InferOutput<typeof TallySource>
export type TallyKind = TallySource['kind']
export const TALLY_KINDS: readonly TallyKind[] = [
  'tsl31-udp',
  'tsl31-serial',
  'tsl5-udp',
  'tsl5-tcp',
  'osc-udp',
]

/** Of a venue. */
export const TallySettings = v.object({
  sources: v.pipe(v.array(TallySource), v.maxLength(20)),
  /** On air and preview can also be set on the Desk. */
  byHand: v.boolean(),
  /** Cameras whose own lamp stays dark. */
  lampsOff: v.pipe(v.array(v.pipe(v.string(), v.uuid())), v.maxLength(500)),
  switcher: v.optional(Switcher, NO_SWITCHER),
})
export type TallySettings = v.InferOutput<typeof TallySettings>
export const NO_TALLY: TallySettings = { sources: [], byHand: false, lampsOff: [], switcher: NO_SWITCHER }

/** Two that would listen at the same place; null if there are none. */
export function clashing({ sources }: TallySettings): [TallySource, TallySource] | null {
  const places = new Map<string, TallySource>()
  for (const source of sources) {
    const place = source.kind === 'tsl31-serial' ? source.path : `${source.kind.split('-')[1]} ${source.port}`
    const other = places.get(place)
    if (other) return [other, source]
    places.set(place, source)
  }
  return null
}

/** What one packet says of one address. `alone`: all others of the source are not in this state. */
export interface Said {
  address: string
  label: string
  /** Left out: it says nothing about this bus. */
  program?: boolean
  preview?: boolean
  alone?: true
}

const shows = (signal: Signal & { kind: 'colours' }, { lamp, colour }: v.InferOutput<typeof Shown>) => {
  const lit = lamp === 'any' ? [signal.left, signal.text, signal.right] : [signal[lamp]]
  // Amber is red and green together.
  const means = (c: Colour) =>
    c !== 'off' && (colour === 'any' || c === colour || (c === 'amber' && colour !== 'amber'))
  return lit.some(means)
}

const INPUT = '{input}'

/** @returns what stands in a path where the template has `{input}`; null if it is another path */
function inputIn(path: string, template: string): string | null {
  const [before, after] = template.split(INPUT) as [string, string]
  if (!path.startsWith(before) || !path.endsWith(after)) return null
  const input = path.slice(before.length, path.length - after.length)
  return input !== '' && !input.includes('/') && path.length > before.length + after.length ? input : null
}

function saidByMessage(
  { path, value }: Signal & { kind: 'message' },
  template: string,
  bus: 'program' | 'preview',
): Said | null {
  if (template.includes(INPUT)) {
    const input = inputIn(path, template)
    if (input === null || (typeof value !== 'number' && typeof value !== 'boolean')) return null
    return { address: input, label: '', [bus]: Number(value) > 0 }
  }
  if (path !== template || (typeof value !== 'number' && typeof value !== 'string')) return null
  return { address: String(value), label: '', [bus]: true, alone: true }
}

/** @returns what a source's own settings make of a signal; null where it means nothing to it */
export function meaningOf(source: TallySource, signal: Signal): Said[] {
  if (signal.kind === 'lamps' && (source.kind === 'tsl31-udp' || source.kind === 'tsl31-serial')) {
    const { address, label, lamps } = signal
    return [{ address, label, program: lamps[source.program - 1]!, preview: lamps[source.preview - 1]! }]
  }
  if (signal.kind === 'colours' && (source.kind === 'tsl5-udp' || source.kind === 'tsl5-tcp')) {
    const { address, label } = signal
    return [
      { address, label, program: shows(signal, source.program), preview: shows(signal, source.preview) },
    ]
  }
  if (signal.kind === 'message' && source.kind === 'osc-udp')
    return [
      saidByMessage(signal, source.program, 'program'),
      saidByMessage(signal, source.preview, 'preview'),
    ].filter((said) => said !== null)
  return []
}
