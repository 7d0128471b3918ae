/** How the link to a camera is doing. */
import * as v from 'valibot'

/** `unheard`: it takes orders and never says anything. */
export const LinkState = v.picklist([
  'connecting',
  'ready',
  'slow',
  'silent',
  'standby',
  'refused',
  'unheard',
])
export type LinkState = v.InferOutput<typeof LinkState>

/** May a camera in this state be driven? */
export const isUsable = (state: LinkState): boolean =>
  state === 'ready' || state === 'slow' || state === 'unheard'

export const Health = v.object({
  state: LinkState,
  /** What is wrong and what to try; null when ready. */
  advice: v.nullable(v.string()),
  roundTripMs: v.nullable(v.number()),
  /** Share of packets lost, 0..1. */
  loss: v.number(),
  /** Ms since the camera last answered; null if it never has. */
  silentMs: v.nullable(v.number()),
  reconnects: v.number(),
})
export type Health = v.InferOutput<typeof Health>
