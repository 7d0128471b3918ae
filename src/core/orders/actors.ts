/** Who gives an order. It comes from the door through which the order came, never from the order itself. */

import { MAY_ALL, type May } from '../people/may'

/** `server`: the server itself, which stops cameras and lights their tally lamps, and never moves one. */
export type ActorKind = 'server' | 'browser' | 'api' | 'cue' | 'round'

export interface Actor {
  readonly kind: ActorKind
  /** One for each socket, door or round; one for all cues. */
  readonly id: string
  /** What others see. */
  name(): string
  /** Read anew at each order: what somebody may do can change while they are here. */
  readonly may: May
}

/** A hand at a page takes a camera from a program, both from a cue, and all of them from a round. */
const STRENGTH: Record<ActorKind, number> = { server: 4, browser: 3, api: 2, cue: 1, round: 0 }

export const yieldsTo = (holder: Actor, actor: Actor): boolean => STRENGTH[holder.kind] < STRENGTH[actor.kind]

/** Programs, as far as they do not come with a page. */
export const PROGRAM: Actor = { kind: 'api', id: 'api', name: () => 'A program', may: MAY_ALL }
/** Cues, tours and recorded moves are one: the newest that was started has the camera. */
export const cueActor = (name: string): Actor => ({
  kind: 'cue',
  id: 'cues',
  name: () => name,
  may: MAY_ALL,
})
export const SERVER_ITSELF: Actor = {
  kind: 'server',
  id: 'server',
  name: () => 'The server',
  may: MAY_ALL,
}
