/** What is kept. Angles in degrees, zoom and focus in the lens's own units. */

import { sql } from 'drizzle-orm'
import {
  type AnyPgColumn,
  bigserial,
  boolean,
  customType,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  unique,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core'
import type { Connection, Mount, Picture } from '../../core/cameras/connection'
import type { Light } from '../../core/cameras/light'
import type { CommandSet } from '../../core/commands/commandSet'
import type { Controls } from '../../core/controls/controls'
import type { KeptShow } from '../../core/cues/now'
import type { PartData, PartKind } from '../../core/cues/show'
import type { HeadProfile } from '../../core/heads/profile'
import type { HeadLearnt } from '../../core/learning/learnt'
import type { Device } from '../../core/messages/device'
import type { Learnt } from '../../core/motion/follow/ledger'
import type { View } from '../../core/optics/sphere'
import type { Guard } from '../../core/orders/guardSettings'
import type { EntryKind } from '../../core/people/journal'
import type { Grant } from '../../core/people/rights'
import type { LookCamera } from '../../core/picture/looks'
import type { Pace, Parts } from '../../core/presets/pace'
import type { Encoder } from '../../core/presets/pose'
import type { OscSettings, RemoteRight } from '../../core/remote/settings'
import type { Mark, RoomKept, RoomSolved } from '../../core/room/room'
import type { Limits } from '../../core/stick/speeds'
import type { SurveyMap } from '../../core/survey/map'
import type { GridSeat, SeatGrid } from '../../core/survey/seatGrid'
import type { SurveyAbout } from '../../core/survey/surveys'
import type { TallySettings } from '../../core/tally/sources'
import type { Spoken } from '../tally/tally'

/** What a mend has changed, as it was. */
export interface BeforeMend {
  /** The version of each preset before, and the one that the mend made. */
  presets: { id: string; before: number; after: number }[]
  limits: Limits | null
  marks: { pointId: string; mark: Mark }[]
  grids: { id: string; corners: SeatGrid['corners'] }[]
  /** Null: there was no survey. */
  survey: { takenAt: string; map: SurveyMap; views: View[] } | null
}

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' })
const id = () => uuid('id').primaryKey().defaultRandom()
const createdAt = () => timestamp('created_at', { withTimezone: true }).notNull().defaultNow()

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

/** What an event is run by: cues, tours, recorded moves, clock starts, buttons. */
export const showPart = pgTable('show_part', {
  id: id(),
  eventId: uuid('event_id')
    .notNull()
    .references(() => event.id, { onDelete: 'cascade' }),
  kind: text('kind').$type<PartKind>().notNull(),
  /** Place among those of its kind, rising. */
  order: doublePrecision('order').notNull(),
  /** Rises with each change, so that none overwrites another unseen. */
  version: integer('version').notNull().default(1),
  data: jsonb('data').$type<PartData<PartKind>>().notNull(),
  createdAt: createdAt(),
})

/** What parts of an event were before they were changed or deleted. */
export const showPartBefore = pgTable(
  'show_part_before',
  {
    partId: uuid('part_id').notNull(),
    version: integer('version').notNull(),
    eventId: uuid('event_id')
      .notNull()
      .references(() => event.id, { onDelete: 'cascade' }),
    data: jsonb('data').$type<PartData<PartKind>>().notNull(),
    replacedAt: timestamp('replaced_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.partId, t.version] })],
)

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

/** What devices showed at the first contact over HTTPS; `origin` is "host:port". */
export const certificate = pgTable('certificate', {
  origin: text('origin').primaryKey(),
  fingerprint: text('fingerprint').notNull(),
  seenAt: timestamp('seen_at', { withTimezone: true }).notNull().defaultNow(),
})

export const picture = pgTable('picture', {
  id: id(),
  jpeg: bytea('jpeg').notNull(),
  takenAt: timestamp('taken_at', { withTimezone: true }).notNull(),
})

export const preset = pgTable(
  'preset',
  {
    id: id(),
    eventId: uuid('event_id')
      .notNull()
      .references(() => event.id, { onDelete: 'cascade' }),
    cameraId: uuid('camera_id')
      .notNull()
      .references(() => camera.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    /** Place among the tiles of its camera, rising. */
    order: doublePrecision('order').notNull(),
    name: text('name').notNull(),
    currentVersion: integer('current_version').notNull(),
    /** The heading that it stands under on its camera's board; '' for none. */
    section: text('section').notNull().default(''),
    /** A shape or a letter of the operator's own; '' for none. */
    mark: text('mark').notNull().default(''),
    /** Place on the board of pinned presets, rising; null if it is not pinned. */
    pinnedOrder: doublePrecision('pinned_order'),
    /** Null: as its camera's default is. */
    pace: jsonb('pace').$type<Pace>(),
    parts: jsonb('parts').$type<Parts>(),
    /** The look that is recalled with it; one that is gone is left out. */
    look: uuid('look'),
    /** The camera's own memory that holds it too, from 1; null for none. */
    memory: integer('memory'),
    /** Set when deleted; kept, so that it can come back. */
    deletedAt: timestamp('deleted_at', { withTimezone: true }),
    createdAt: createdAt(),
  },
  (t) => [
    uniqueIndex('preset_number').on(t.eventId, t.cameraId, t.number).where(sql`${t.deletedAt} is null`),
  ],
)

/**
 * Every store makes a version, so an overwrite can be undone. None is ever changed, but for its degrees when the
 * head profile is mended by which they follow from what the head counts.
 */
export const presetVersion = pgTable(
  'preset_version',
  {
    presetId: uuid('preset_id')
      .notNull()
      .references(() => preset.id, { onDelete: 'cascade' }),
    version: integer('version').notNull(),
    /** Null if the camera does not report its position: then the preset is in its own memory alone. */
    panDeg: doublePrecision('pan_deg'),
    tiltDeg: doublePrecision('tilt_deg'),
    zoom: doublePrecision('zoom'),
    focusAuto: boolean('focus_auto'),
    focus: doublePrecision('focus'),
    /** Pan and tilt as the head itself counts. */
    encoder: jsonb('encoder').$type<Encoder>(),
    /** Exposure and white balance, if they were asked for. */
    light: jsonb('light').$type<Light>(),
    pictureId: uuid('picture_id').references(() => picture.id),
    /** Its picture was cut out of a survey: the camera has not been there since. */
    surveyed: boolean('surveyed').notNull().default(false),
    storedAt: timestamp('stored_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.presetId, t.version] })],
)

/** What a camera can reach, photographed by itself: one for each camera and event. */
export const survey = pgTable(
  'survey',
  {
    id: id(),
    eventId: uuid('event_id')
      .notNull()
      .references(() => event.id, { onDelete: 'cascade' }),
    cameraId: uuid('camera_id')
      .notNull()
      .references(() => camera.id, { onDelete: 'cascade' }),
    takenAt: timestamp('taken_at', { withTimezone: true }).notNull(),
    about: jsonb('about').$type<SurveyAbout>().notNull(),
  },
  (t) => [unique('survey_of').on(t.eventId, t.cameraId)],
)

/** Its picture in pieces; level 0 is the whole, each further one half as large. */
export const surveyTile = pgTable(
  'survey_tile',
  {
    surveyId: uuid('survey_id')
      .notNull()
      .references(() => survey.id, { onDelete: 'cascade' }),
    level: integer('level').notNull(),
    column: integer('column').notNull(),
    row: integer('row').notNull(),
    jpeg: bytea('jpeg').notNull(),
  },
  (t) => [primaryKey({ columns: [t.surveyId, t.level, t.column, t.row] })],
)

/** The pictures that it is made of, with where each was taken. */
export const surveyShot = pgTable(
  'survey_shot',
  {
    surveyId: uuid('survey_id')
      .notNull()
      .references(() => survey.id, { onDelete: 'cascade' }),
    place: integer('place').notNull(),
    view: jsonb('view').$type<View>().notNull(),
    /** Its brightness against the others; 1 is unchanged. */
    gain: doublePrecision('gain').notNull(),
    /** How often it was renewed since, in part: a newer one lies over it. */
    age: integer('age').notNull().default(0),
    jpeg: bytea('jpeg').notNull(),
  },
  (t) => [primaryKey({ columns: [t.surveyId, t.place] })],
)

/** The room of an event: what was touched in it, where its cameras stand, and a picture of its plan. */
export const room = pgTable('room', {
  eventId: uuid('event_id')
    .primaryKey()
    .references(() => event.id, { onDelete: 'cascade' }),
  version: integer('version').notNull().default(1),
  kept: jsonb('kept').$type<RoomKept>().notNull(),
  solved: jsonb('solved').$type<RoomSolved>(),
  picture: bytea('picture'),
  pictureSize: jsonb('picture_size').$type<{ width: number; height: number }>(),
})

/** A block of seats whose presets were made together, so that all of them follow when a corner is moved. */
export const seatGrid = pgTable('seat_grid', {
  id: id(),
  eventId: uuid('event_id')
    .notNull()
    .references(() => event.id, { onDelete: 'cascade' }),
  cameraId: uuid('camera_id')
    .notNull()
    .references(() => camera.id, { onDelete: 'cascade' }),
  section: text('section').notNull(),
  grid: jsonb('grid').$type<SeatGrid>().notNull(),
  seats: jsonb('seats').$type<GridSeat[]>().notNull(),
})

/** The newest mend of a camera that was bumped, with what was before, so that it can be undone. */
export const bumpMend = pgTable(
  'bump_mend',
  {
    eventId: uuid('event_id')
      .notNull()
      .references(() => event.id, { onDelete: 'cascade' }),
    cameraId: uuid('camera_id')
      .notNull()
      .references(() => camera.id, { onDelete: 'cascade' }),
    before: jsonb('before').$type<BeforeMend>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.eventId, t.cameraId] })],
)

/** What cameras were set to before a recall of a look or a match, so that it can be undone. */
export const formerSettings = pgTable(
  'former_settings',
  {
    id: uuid('id').primaryKey(),
    venueId: uuid('venue_id')
      .notNull()
      .references(() => venue.id, { onDelete: 'cascade' }),
    what: text('what').notNull(),
    cameras: jsonb('cameras').$type<LookCamera[]>().notNull(),
    state: text('state').$type<'running' | 'done' | 'cut'>().notNull(),
    at: timestamp('at', { withTimezone: true }).notNull(),
  },
  (t) => [index('former_settings_venue').on(t.venueId, t.at)],
)

/** What a camera has measured of its own head and lens. */
export const headLearnt = pgTable('head_learnt', {
  cameraId: uuid('camera_id')
    .primaryKey()
    .references(() => camera.id, { onDelete: 'cascade' }),
  data: jsonb('data').$type<HeadLearnt>().notNull(),
})

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
