/** Who gives an order. It comes from the door through which the order came, never from the order itself. */

/** `server`: the server itself, which stops cameras and lights their tally lamps, and never moves one. */
export type ActorKind = 'server' | 'browser' | 'api' | 'cue' | 'round'

/** What an actor may do at all; roles will be sets of these. */
export type Right = 'drive' | 'picture' | 'power'
export const ALL_RIGHTS: ReadonlySet<Right> = new Set(['drive', 'picture', 'power'])

export interface Actor {
  readonly kind: ActorKind
  /** One for each socket, door or round; one for all cues. */
  readonly id: string
  /** What others see. */
  name(): string
  readonly rights: ReadonlySet<Right>
}

/** A hand at a page takes a camera from a program, both from a cue, and all of them from a round. */
const STRENGTH: Record<ActorKind, number> = { server: 4, browser: 3, api: 2, cue: 1, round: 0 }

export const yieldsTo = (holder: Actor, actor: Actor): boolean => STRENGTH[holder.kind] < STRENGTH[actor.kind]

/** Programs, as far as they do not come with a page. */
export const PROGRAM: Actor = { kind: 'api', id: 'api', name: () => 'A program', rights: ALL_RIGHTS }
/** Cues, tours and recorded moves are one: the newest that was started has the camera. */
export const cueActor = (name: string): Actor => ({
  kind: 'cue',
  id: 'cues',
  name: () => name,
  rights: ALL_RIGHTS,
})
export const SERVER_ITSELF: Actor = {
  kind: 'server',
  id: 'server',
  name: () => 'The server',
  rights: ALL_RIGHTS,
}
