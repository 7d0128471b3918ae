/**
 * The on-air guard: what eases, asks about or refuses a move on a camera that is on air, or of which that is not
 * known. It is a rule of the gate, so that it holds for whoever gives the order.
 */
import { countsAsOnAir, type TallyState } from '../tally/sources'
import { type Guard, type OnAir, USUAL_GUARD } from './guardSettings'
import { type CameraOrder, movesCamera } from './orders'
import { type GateOrder, GO, type Rule, type Verdict } from './verdict'

export const OFF_AIR: OnAir = { tally: 'off', guard: USUAL_GUARD, speed: 1, confirmed: false }

export const isGuarded = ({ mode, preview }: Guard, tally: TallyState): boolean =>
  mode !== 'off' && (countsAsOnAir(tally) || (preview && tally === 'preview'))

/** What shorter moves take, as a share of what a recall takes. */
const SHARE = {
  recall: 1,
  goToPose: 1,
  replay: 1,
  home: 1,
  aim: 0.5,
  frame: 0.5,
  nudge: 0.25,
  zoomAbout: 0.25,
} as const
type Easable = keyof typeof SHARE
const isEasable = (order: GateOrder): order is CameraOrder & { t: Easable } => order.t in SHARE

const WHERE: Record<TallyState, string> = {
  program: 'on air',
  preview: 'on preview',
  unknown: 'perhaps on air, as its tally is not known',
  off: '',
}
const capped = (value: number, most: number) => Math.max(-most, Math.min(most, value))
const inSeconds = (s: number) => `${Math.round(s * 10) / 10} s`

/** Is it something that the audience would see? */
const isSeen = (order: GateOrder): boolean => {
  if (order.t === 'stick' || order.t === 'finger') return true
  if (order.t === 'power') return !order.on
  if (order.t === 'followSubject') return order.on
  // The audience would see it.
  if (order.t === 'menu') return order.action === 'open'
  return movesCamera(order)
}

function eased(order: GateOrder, why: string, { guard, speed }: OnAir): Verdict | null {
  if (order.t === 'stick') {
    const { pan, tilt, zoom } = order.push
    const push = {
      ...order.push,
      pan: capped(pan, speed),
      tilt: capped(tilt, speed),
      zoom: capped(zoom, speed),
    }
    const same = push.pan === pan && push.tilt === tilt && push.zoom === zoom
    return same ? GO : { is: 'go-changed', order: { t: 'stick', push }, why: `${why}: the stick is eased.` }
  }
  if (order.t === 'finger')
    return { is: 'go-changed', order: { t: 'finger', most: speed }, why: `${why}: it follows gently.` }
  if (!isEasable(order)) return null
  const least = guard.seconds * SHARE[order.t]
  // It is gentle already.
  if ('pace' in order && order.pace?.kind === 'timed' && order.pace.seconds >= least) return GO
  const atLeastSeconds = Math.max(order.atLeastSeconds ?? 0, least)
  return {
    is: 'go-changed',
    order: { ...order, atLeastSeconds },
    why: `${why}: it moves gently, in ${inSeconds(atLeastSeconds)}.`,
  }
}

/** Eases, asks or refuses what would be seen on a camera that is on air. */
export const guardRule: Rule = (order, actor, { name, onAir }) => {
  const { guard, tally, confirmed } = onAir
  if (actor.kind === 'server' || !isGuarded(guard, tally) || !isSeen(order)) return GO
  const why = `${name} is ${WHERE[tally]}`
  if (guard.mode === 'refuse')
    return { is: 'refuse', why: `${why}, and moves are refused by the on-air guard.` }
  // What goes on by itself has nobody who could confirm it.
  if (actor.kind === 'round') return { is: 'refuse', why: `${why}, so the round leaves it alone.` }
  const isHand = order.t === 'stick' || order.t === 'finger'
  const gently = eased(order, why, onAir)
  // A cue was prepared and started on purpose: nobody could confirm its steps one by one.
  if (gently && (isHand || guard.mode === 'ease' || actor.kind === 'cue')) return gently
  if (actor.kind === 'cue') return { is: 'refuse', why: `${why}, so the cue leaves it alone.` }
  return confirmed ? GO : { is: 'ask', why: `${why}. Hold to do it all the same.` }
}
