/** A round: one camera goes through its presets or its own memories, one after the other. */
import * as v from 'valibot'
import { BumpFound, bumpWords } from '../bump/bump'
import { LEARN_STEPS } from '../learning/learnt'

const Deg = v.pipe(v.number(), v.minValue(-720), v.maxValue(720))
const Span = v.pipe(
  v.object({ minDeg: Deg, maxDeg: Deg }),
  v.check((span) => span.minDeg <= span.maxDeg, 'The lower end comes before the upper one.'),
)

export const RoundOrder = v.variant('kind', [
  /** Renews the picture of each of its presets. */
  v.object({ kind: v.literal('pictures') }),
  /** Photographs all that it can reach, or anew a part of its survey, degrees as the operator sees them. */
  v.object({ kind: v.literal('survey'), part: v.optional(v.object({ pan: Span, tilt: Span })) }),
  /** Measures its head and its lens. */
  v.object({ kind: v.literal('learn'), steps: v.pipe(v.array(v.picklist(LEARN_STEPS)), v.minLength(1)) }),
  /** Looks whether its mount was bumped, by pictures of then. */
  v.object({ kind: v.literal('bump') }),
  /** Takes in what is in its own memories, numbered from 1. */
  v.pipe(
    v.object({
      kind: v.literal('memories'),
      from: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(128)),
      to: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(128)),
    }),
    v.check((o) => o.from <= o.to, 'The first memory comes before the last.'),
  ),
])
export type RoundOrder = v.InferOutput<typeof RoundOrder>

export const Round = v.object({
  kind: v.picklist(['pictures', 'survey', 'learn', 'bump', 'memories']),
  state: v.picklist(['running', 'finished', 'stopped']),
  /** How many there are, are done, and succeeded. */
  total: v.number(),
  through: v.number(),
  taken: v.number(),
  /** Empty memories. */
  empty: v.number(),
  /** It waits until it is told to go on. */
  paused: v.optional(v.boolean(), false),
  /** How far its mount was turned; null: not looked at, or not found. */
  bump: v.optional(v.nullable(BumpFound), null),
  /** Is that more than nothing? */
  bumped: v.optional(v.boolean(), false),
  /** What it is doing; '' at the end. */
  at: v.string(),
  /** What went wrong, a sentence each. */
  troubles: v.array(v.string()),
  /** Why it stopped; null if it did not, or was told to. */
  reason: v.nullable(v.string()),
})
export type Round = v.InferOutput<typeof Round>

const count = (n: number, one: string, many: string) => (n === 1 ? `1 ${one}` : `${n} ${many}`)

/** Of learning, `total` and `through` are seconds. */
function learnWords({ state, total, through, taken, at, reason, paused }: Round): string {
  const learnt = `${count(taken, 'step', 'steps')} learnt`
  if (state === 'stopped') return `Stopped: ${learnt}. ${reason ?? ''}`.trim()
  if (state === 'finished') return `Done: ${learnt}.`
  const left = Math.max(0, total - through)
  const time = left >= 90 ? `${Math.round(left / 60)} min` : `${Math.max(5, Math.round(left / 5) * 5)} s`
  return paused ? `Paused: ${at}` : `Learning its head: ${at}. About ${time} left.`
}

/** As shown to the operator. */
export function roundWords(round: Round): string {
  const { kind, state, total, through, taken, empty, at, reason, paused } = round
  if (kind === 'learn') return learnWords(round)
  const what =
    kind === 'pictures'
      ? `${count(taken, 'picture', 'pictures')} renewed`
      : kind === 'survey'
        ? `${count(taken, 'picture', 'pictures')} taken`
        : kind === 'bump'
          ? `${count(taken, 'picture', 'pictures')} compared`
          : `${count(taken, 'memory', 'memories')} taken in`
  const none = empty > 0 ? `, ${empty} empty` : ''
  if (state === 'running' && total === 0) return `${paused ? 'Paused. ' : ''}${at || 'Getting ready…'}`
  if (state === 'running')
    return `${paused ? 'Paused. ' : ''}${through} of ${total}, ${what}${none}. Now ${at}`
  if (state === 'stopped')
    return `Stopped after ${through} of ${total}: ${what}${none}. ${reason ?? ''}`.trim()
  if (kind === 'bump' && round.bump)
    return round.bumped
      ? `It was bumped: what was stored now stands ${bumpWords(round.bump)}.`
      : 'It stands as it did: nothing to mend.'
  return `Done: ${what}${none}.`
}
