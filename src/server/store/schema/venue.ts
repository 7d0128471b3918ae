/** Venues with their cameras and devices, events, and the files that users share. */
import { sql } from 'drizzle-orm'
import {
  boolean,
  doublePrecision,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core'
import type { Connection, Mount, Picture } from '../../../core/cameras/connection'
import type { CommandSet } from '../../../core/commands/commandSet'
import type { KeptShow } from '../../../core/cues/now'
import type { HeadProfile } from '../../../core/heads/profile'
import type { HeadLearnt } from '../../../core/learning/learnt'
import type { Device } from '../../../core/messages/device'
import type { Learnt } from '../../../core/motion/follow/ledger'
import type { Guard } from '../../../core/orders/guardSettings'
import type { Pace } from '../../../core/presets/pace'
import type { OscSettings, RemoteRight } from '../../../core/remote/settings'
import type { Limits } from '../../../core/stick/speeds'
import type { TallySettings } from '../../../core/tally/sources'
import type { Spoken } from '../../tally/tally'
import { createdAt, id } from './columns'

export const venue = pgTable(
  'venue',
  {
    id: id(),
    name: text('name').notNull(),
    open: boolean('open').notNull().default(false),
    /** The made-up one of ours, which can be removed as a whole. */
    demo: boolean('demo').notNull().default(false),
    tally: jsonb('tally').$type<TallySettings>(),
    /** What hands and programs have said of its cameras, for the next start. */
    tallySpoken: jsonb('tally_spoken').$type<Spoken>(),
    /** OSC in and out; null: off. */
    osc: jsonb('osc').$type<OscSettings>(),
    /** As `Europe/London`; null: as this computer has it. */
    timeZone: text('time_zone'),
    createdAt: createdAt(),
  },
  // One venue is open at a time.
  (t) => [uniqueIndex('venue_one_open').on(t.open).where(sql`${t.open}`)],
)

export const event = pgTable(
  'event',
  {
    id: id(),
    venueId: uuid('venue_id')
      .notNull()
      .references(() => venue.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    open: boolean('open').notNull().default(false),
    /** People, places and seats, to name presets by. */
    words: jsonb('words').$type<string[]>().notNull().default([]),
    /** The on-air guard; null: the usual one. */
    guard: jsonb('guard').$type<Guard>(),
    /** Where its running order stands, for the next start. */
    showKept: jsonb('show_kept').$type<KeptShow>(),
    createdAt: createdAt(),
  },
  // One event of a venue is open at a time.
  (t) => [uniqueIndex('event_one_open').on(t.venueId).where(sql`${t.open}`)],
)

export const camera = pgTable(
  'camera',
  {
    id: id(),
    venueId: uuid('venue_id')
      .notNull()
      .references(() => venue.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    /** Place in the list, rising. */
    order: doublePrecision('order').notNull(),
    name: text('name').notNull(),
    /** Off: kept in the list, and not connected to. */
    enabled: boolean('enabled').notNull().default(true),
    connection: jsonb('connection').$type<Connection>().notNull(),
    headProfile: text('head_profile').notNull(),
    picture: jsonb('picture').$type<Picture>().notNull(),
    mount: jsonb('mount').$type<Mount>().notNull(),
    /** The range in which it may be driven; null if none was set. */
    limits: jsonb('limits').$type<Limits>(),
    /** How its presets travel unless they say otherwise; null: quick. */
    pace: jsonb('pace').$type<Pace>(),
    /** It holds its picture while it travels to a preset. */
    holdPicture: boolean('hold_picture').notNull().default(false),
    /** New presets go into its memory of the same number too. */
    alsoInMemory: boolean('also_in_memory').notNull().default(false),
    /** Its stick is sent as short moves that end by themselves. */
    leash: boolean('leash').notNull().default(false),
    /** Its head profile is known to describe it. */
    headConfirmed: boolean('head_confirmed').notNull().default(false),
    pageUrl: text('page_url'),
    /** What the head makes of the speeds that it is told. */
    learnt: jsonb('learnt').$type<Learnt>(),
    /** Passwords, sealed with a key outside the database. */
    secrets: text('secrets'),
    /** Set when deleted; kept with its presets, so that it can come back. */
    deletedAt: timestamp('deleted_at', { withTimezone: true }),
    createdAt: createdAt(),
  },
  (t) => [uniqueIndex('camera_number').on(t.venueId, t.number).where(sql`${t.deletedAt} is null`)],
)

/** Other devices that are told things. */
export const device = pgTable('device', {
  id: id(),
  venueId: uuid('venue_id')
    .notNull()
    .references(() => venue.id, { onDelete: 'cascade' }),
  data: jsonb('data').$type<Device>().notNull(),
  /** What its messages must not show, sealed with a key outside the database. */
  secret: text('secret'),
  createdAt: createdAt(),
})

/** Keys of programs and button boxes. */
export const remoteKey = pgTable('remote_key', {
  id: id(),
  name: text('name').notNull(),
  /** SHA-256 of the key, in hex. */
  hash: text('hash').notNull().unique(),
  rights: jsonb('rights').$type<RemoteRight[]>().notNull(),
  endsAt: timestamp('ends_at', { withTimezone: true }),
  lastUsedAt: timestamp('last_used_at', { withTimezone: true }),
  createdAt: createdAt(),
})

/** Descriptions of cameras that take plain commands; open files that users share. */
export const commandSet = pgTable(
  'command_set',
  {
    venueId: uuid('venue_id')
      .notNull()
      .references(() => venue.id, { onDelete: 'cascade' }),
    id: text('id').notNull(),
    data: jsonb('data').$type<CommandSet>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.venueId, t.id] })],
)

/** Head profiles of the users' own; open files that they share. */
export const headProfile = pgTable(
  'head_profile',
  {
    venueId: uuid('venue_id')
      .notNull()
      .references(() => venue.id, { onDelete: 'cascade' }),
    id: text('id').notNull(),
    data: jsonb('data').$type<HeadProfile>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.venueId, t.id] })],
)

/** What a camera has measured of its own head and lens. */
export const headLearnt = pgTable('head_learnt', {
  cameraId: uuid('camera_id')
    .primaryKey()
    .references(() => camera.id, { onDelete: 'cascade' }),
  data: jsonb('data').$type<HeadLearnt>().notNull(),
})

/** What devices showed at the first contact over HTTPS; `origin` is "host:port". */
export const certificate = pgTable('certificate', {
  origin: text('origin').primaryKey(),
  fingerprint: text('fingerprint').notNull(),
  seenAt: timestamp('seen_at', { withTimezone: true }).notNull().defaultNow(),
})
