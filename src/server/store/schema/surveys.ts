/** What cameras have photographed of the room, and what is made from that. */
import {
  doublePrecision,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  unique,
  uuid,
} from 'drizzle-orm/pg-core'
import type { View } from '../../../core/optics/sphere'
import type { Mark, RoomKept, RoomSolved } from '../../../core/room/room'
import type { Limits } from '../../../core/stick/speeds'
import type { SurveyMap } from '../../../core/survey/map'
import type { GridSeat, SeatGrid } from '../../../core/survey/seatGrid'
import type { SurveyAbout } from '../../../core/survey/surveys'
import { ofCamera, ofEvent } from './belongs'
import { bytea, id } from './columns'
import { event } from './venue'

/** What a camera can reach, photographed by itself: one for each camera and event. */
export const survey = pgTable(
  'survey',
  {
    id: id(),
    eventId: ofEvent(),
    cameraId: ofCamera(),
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
  eventId: ofEvent(),
  cameraId: ofCamera(),
  section: text('section').notNull(),
  grid: jsonb('grid').$type<SeatGrid>().notNull(),
  seats: jsonb('seats').$type<GridSeat[]>().notNull(),
})

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

/** The newest mend of a camera that was bumped, with what was before, so that it can be undone. */
export const bumpMend = pgTable(
  'bump_mend',
  {
    eventId: ofEvent(),
    cameraId: ofCamera(),
    before: jsonb('before').$type<BeforeMend>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.eventId, t.cameraId] })],
)
