/** People, invitations and signed-in browsers as the pages see them. */
import * as v from 'valibot'
import { Grant, Reach, RIGHT_NAMES, ROLE_NAMES } from './rights'

export const PersonName = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(40))
export const LEAST_PASSWORD = 8
export const Password = v.pipe(
  v.string(),
  v.minLength(LEAST_PASSWORD, `A password has at least ${LEAST_PASSWORD} characters.`),
  v.maxLength(200),
)

/** Whoever asks, and what they may in the open event. */
export const Me = v.object({
  /** Null: this computer itself, and nobody is set up. */
  person: v.nullable(v.string()),
  name: v.string(),
  role: v.picklist(ROLE_NAMES),
  rights: v.array(v.picklist(RIGHT_NAMES)),
  reach: Reach,
  /** Signed in, so that they can sign out. */
  signedIn: v.boolean(),
  /** When it ends by itself, ISO 8601. */
  endsAt: v.nullable(v.string()),
})
export type Me = v.InferOutput<typeof Me>

/** Somebody who may sign in, or sits at a desk. */
export const AccountView = v.object({
  id: v.string(),
  name: v.string(),
  grant: Grant,
  hasPassword: v.boolean(),
  invitation: v.nullable(v.string()),
})
export type AccountView = v.InferOutput<typeof AccountView>

export const NewInvitation = v.object({
  name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60)),
  grant: Grant,
  endsAt: v.nullable(v.pipe(v.string(), v.isoTimestamp())),
  uses: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1000))),
})
export type NewInvitation = v.InferOutput<typeof NewInvitation>

export const INVITATION_STATES = ['open', 'used up', 'over', 'ended'] as const
export const InvitationView = v.object({
  id: v.string(),
  ...NewInvitation.entries,
  used: v.number(),
  state: v.picklist(INVITATION_STATES),
  /** What its link ends with, after the server's address. */
  path: v.string(),
  /** Who came by it, and when. */
  by: v.array(v.object({ name: v.string(), at: v.string() })),
})
export type InvitationView = v.InferOutput<typeof InvitationView>

export const SessionView = v.object({
  id: v.string(),
  name: v.string(),
  address: v.string(),
  device: v.string(),
  since: v.string(),
  lastSeenAt: v.string(),
  /** It is the one that asks. */
  own: v.boolean(),
})
export type SessionView = v.InferOutput<typeof SessionView>

export const PeopleView = v.object({
  accounts: v.array(AccountView),
  invitations: v.array(InvitationView),
  sessions: v.array(SessionView),
  /** Addresses under which others reach this server; empty: only from this computer. */
  addresses: v.array(v.string()),
})
export type PeopleView = v.InferOutput<typeof PeopleView>

export const PasskeyView = v.object({
  id: v.string(),
  /** Which device made it. */
  name: v.string(),
  createdAt: v.string(),
  lastUsedAt: v.nullable(v.string()),
})
export type PasskeyView = v.InferOutput<typeof PasskeyView>
