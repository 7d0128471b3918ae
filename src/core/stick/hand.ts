/** The person's own speeds: what becomes of a hand's push before it is sent. */
import type { Feel } from '../controls/controls'
import type { Push } from './speeds'

export type HandPace = 'slow' | 'usual' | 'fast'

/** What fast multiplies the speed by; never beyond full. */
const FAST = 2.2
const clamp = (x: number) => Math.max(-1, Math.min(1, x))

const paceFactor = (feel: Feel, pace: HandPace): number =>
  pace === 'slow' ? feel.slow : pace === 'fast' ? FAST : 1

export function feltPush(push: Push, feel: Feel, pace: HandPace): Push {
  const by = paceFactor(feel, pace)
  const part = (axis: 'pan' | 'tilt' | 'zoom') => clamp(push[axis] * feel.speed * feel[axis] * by)
  return {
    pan: part('pan'),
    tilt: part('tilt'),
    zoom: part('zoom'),
    focus: clamp(push.focus * feel.focus * Math.min(1, by)),
  }
}
