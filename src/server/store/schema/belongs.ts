/** Columns of what belongs to something, and goes with it. */
import { uuid } from 'drizzle-orm/pg-core'
import { camera, event, venue } from './venue'

export const ofEvent = () =>
  uuid('event_id')
    .notNull()
    .references(() => event.id, { onDelete: 'cascade' })

export const ofCamera = () =>
  uuid('camera_id')
    .notNull()
    .references(() => camera.id, { onDelete: 'cascade' })

export const ofVenue = () =>
  uuid('venue_id')
    .notNull()
    .references(() => venue.id, { onDelete: 'cascade' })
