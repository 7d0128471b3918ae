/** Presets and their pictures, and what was set before. */
import { sql } from 'drizzle-orm'
import {
  boolean,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core'
import type { Light } from '../../../core/cameras/light'
import type { LookCamera } from '../../../core/picture/looks'
import type { Pace, Parts } from '../../../core/presets/pace'
import type { Encoder } from '../../../core/presets/pose'
import { ofCamera, ofEvent, ofVenue } from './belongs'
import { bytea, createdAt, id } from './columns'

export const picture = pgTable('picture', {
  id: id(),
  jpeg: bytea('jpeg').notNull(),
  takenAt: timestamp('taken_at', { withTimezone: true }).notNull(),
})

export const preset = pgTable(
  'preset',
  {
    id: id(),
    eventId: ofEvent(),
    cameraId: ofCamera(),
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

/** What cameras were set to before a recall of a look or a match, so that it can be undone. */
export const formerSettings = pgTable(
  'former_settings',
  {
    id: uuid('id').primaryKey(),
    venueId: ofVenue(),
    what: text('what').notNull(),
    cameras: jsonb('cameras').$type<LookCamera[]>().notNull(),
    state: text('state').$type<'running' | 'done' | 'cut'>().notNull(),
    at: timestamp('at', { withTimezone: true }).notNull(),
  },
  (t) => [index('former_settings_venue').on(t.venueId, t.at)],
)
