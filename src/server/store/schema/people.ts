/** Who sits at the desks, what lets them in, and what they did. */
import {
  type AnyPgColumn,
  bigserial,
  index,
  integer,
  jsonb,
  pgTable,
  text,
  timestamp,
  uuid,
} from 'drizzle-orm/pg-core'
import type { Controls } from '../../../core/controls/controls'
import type { EntryKind } from '../../../core/people/journal'
import type { Grant } from '../../../core/people/rights'
import { createdAt, id } from './columns'

/** Whoever sits at a desk, with the controls as they like them. */
export const person = pgTable('person', {
  id: id(),
  name: text('name').notNull(),
  controls: jsonb('controls').$type<Controls>().notNull(),
  /** Null: as an operator, once somebody gives them a password. */
  grant: jsonb('grant').$type<Grant>(),
  /** Argon2id, in its usual notation; null: cannot sign in by a password. */
  passwordHash: text('password_hash'),
  /** Came by this invitation, and may what it says. */
  invitationId: uuid('invitation_id').references((): AnyPgColumn => invitation.id, { onDelete: 'cascade' }),
  createdAt: createdAt(),
})

/** A link that lets somebody in. */
export const invitation = pgTable('invitation', {
  id: id(),
  name: text('name').notNull(),
  grant: jsonb('grant').$type<Grant>().notNull(),
  /** SHA-256 of what its link carries, in hex; and that itself, sealed, to show the link again. */
  hash: text('hash').notNull().unique(),
  sealed: text('sealed').notNull(),
  /** Null: until it is ended by hand. */
  endsAt: timestamp('ends_at', { withTimezone: true }),
  /** How often it may be used; null: any number of times. */
  uses: integer('uses'),
  used: integer('used').notNull().default(0),
  endedAt: timestamp('ended_at', { withTimezone: true }),
  createdAt: createdAt(),
})

/** A browser that somebody has signed in at. */
export const session = pgTable('session', {
  id: id(),
  personId: uuid('person_id')
    .notNull()
    .references(() => person.id, { onDelete: 'cascade' }),
  /** SHA-256 of the cookie's value, in hex. */
  hash: text('hash').notNull().unique(),
  address: text('address').notNull(),
  /** Which browser on what, as it tells it. */
  device: text('device').notNull(),
  lastSeenAt: timestamp('last_seen_at', { withTimezone: true }).notNull().defaultNow(),
  createdAt: createdAt(),
})

/** What signs somebody in by a device's own lock. */
export const passkey = pgTable('passkey', {
  id: id(),
  personId: uuid('person_id')
    .notNull()
    .references(() => person.id, { onDelete: 'cascade' }),
  /** Which device made it, in words. */
  name: text('name').notNull(),
  /** As WebAuthn names it, base64url. */
  credential: text('credential').notNull().unique(),
  /** COSE, base64url. */
  publicKey: text('public_key').notNull(),
  /** How often it was used, where the device counts. */
  counter: integer('counter').notNull(),
  lastUsedAt: timestamp('last_used_at', { withTimezone: true }),
  createdAt: createdAt(),
})

/** What the owner has set for this installation. */
export const ownerSetting = pgTable('owner_setting', {
  key: text('key').primaryKey(),
  value: jsonb('value').$type<unknown>().notNull(),
})

/** Who did what. */
export const journal = pgTable(
  'journal',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
    /** The event that was open. */
    eventName: text('event_name').notNull(),
    /** Who; '' for the server itself. */
    person: text('person').notNull(),
    kind: text('kind').$type<EntryKind>().notNull(),
    camera: text('camera').notNull(),
    what: text('what').notNull(),
    /** Why it was not done; null: it was. */
    refused: text('refused'),
  },
  (t) => [index('journal_at').on(t.at)],
)
