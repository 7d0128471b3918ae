/**
 * What a person may do, as data: rights, roles as sets of them, and how far they reach. The gate, the routes and the
 * pages take it from here.
 */
import * as v from 'valibot'

/** Each right once; `what` as in "You may not ... here". */
export const RIGHTS = {
  see: { label: 'See cameras and presets', what: 'see this' },
  recall: { label: 'Recall presets', what: 'recall presets' },
  drive: { label: 'Drive', what: 'drive cameras' },
  store: { label: 'Store and change presets', what: 'store or change presets' },
  picture: { label: 'Set the picture', what: 'set the picture' },
  power: { label: 'Switch cameras on and off', what: 'switch cameras on or off' },
  cues: { label: 'Start cues and tours', what: 'start cues' },
  edit: { label: 'Change cues, tours and looks', what: 'change cues, tours or looks' },
  tally: { label: 'Cut, and set tally by hand', what: 'use the switcher or set tally' },
  onAir: { label: 'Move cameras that are on air', what: 'move a camera that is on air' },
  override: { label: 'Confirm what the guard asks', what: 'override the on-air guard' },
  setup: { label: 'Set up cameras and events', what: 'change the set-up' },
  people: { label: 'Invite and manage people', what: 'manage people' },
} as const
export type Right = keyof typeof RIGHTS
export const RIGHT_NAMES = Object.keys(RIGHTS) as Right[]
export const ALL_RIGHTS: ReadonlySet<Right> = new Set(RIGHT_NAMES)

const OPERATOR: readonly Right[] = [
  ...(['see', 'recall', 'drive', 'store', 'picture', 'power', 'cues', 'edit', 'tally'] as const),
  ...(['onAir', 'override'] as const),
]

/** `rights`: what it may unless changed for one person. */
export const ROLES = {
  owner: { label: 'Owner', about: 'may do everything', rights: RIGHT_NAMES },
  operator: { label: 'Operator', about: 'drives, stores, sets the picture, runs cues', rights: OPERATOR },
  helper: { label: 'Helper', about: 'recalls and drives off air', rights: ['see', 'recall', 'drive'] },
  viewer: { label: 'Viewer', about: 'sees, and touches nothing', rights: ['see'] },
} as const satisfies Record<string, { label: string; about: string; rights: readonly Right[] }>
export type Role = keyof typeof ROLES
export const ROLE_NAMES = Object.keys(ROLES) as Role[]

const Ids = v.pipe(v.array(v.pipe(v.string(), v.uuid())), v.maxLength(500))

/** How far rights reach; null: everywhere. */
export const Reach = v.object({
  cameras: v.optional(v.nullable(Ids), null),
  /** Headings of presets, of any camera that is reached; '' for those without one. */
  sections: v.optional(
    v.nullable(v.pipe(v.array(v.pipe(v.string(), v.maxLength(60))), v.maxLength(200))),
    null,
  ),
  cues: v.optional(v.nullable(Ids), null),
  /** A helper's desk: nothing but what stands on it. */
  desk: v.optional(v.nullable(v.pipe(v.string(), v.uuid())), null),
  /** Rights that differ from the role's. */
  rights: v.optional(v.record(v.picklist(RIGHT_NAMES), v.boolean()), {}),
})
export type Reach = v.InferOutput<typeof Reach>
export const EVERYWHERE: Reach = { cameras: null, sections: null, cues: null, desk: null, rights: {} }

/** A role, how far it reaches, and what differs in single events, by their ids. */
export const Grant = v.object({
  role: v.picklist(ROLE_NAMES),
  reach: v.optional(Reach, EVERYWHERE),
  events: v.optional(v.record(v.pipe(v.string(), v.uuid()), Reach), {}),
})
export type Grant = v.InferOutput<typeof Grant>
export const OWNER: Grant = { role: 'owner', reach: EVERYWHERE, events: {} }

/** What a person may in one event. An owner may everything, whatever else is kept. */
export function rightsOf({ role, reach, events }: Grant, event: string | null): ReadonlySet<Right> {
  if (role === 'owner') return ALL_RIGHTS
  const { rights } = (event && events[event]) || reach
  return new Set(
    RIGHT_NAMES.filter((right) => rights[right] ?? (ROLES[role].rights as readonly Right[]).includes(right)),
  )
}

/** How far a person reaches in one event. */
export function reachOf({ role, reach, events }: Grant, event: string | null): Reach {
  return role === 'owner' ? EVERYWHERE : (event && events[event]) || reach
}

/** Why not, in a sentence. */
export const mayNot = (right: Right): string =>
  `You may not ${RIGHTS[right].what} here. Ask an owner of this desk.`
