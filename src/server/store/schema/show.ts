/** What an event is run by. */
import {
  doublePrecision,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uuid,
} from 'drizzle-orm/pg-core'
import type { PartData, PartKind } from '../../../core/cues/show'
import { ofEvent } from './belongs'
import { createdAt, id } from './columns'

/** What an event is run by: cues, tours, recorded moves, clock starts, buttons. */
export const showPart = pgTable('show_part', {
  id: id(),
  eventId: ofEvent(),
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
    eventId: ofEvent(),
    data: jsonb('data').$type<PartData<PartKind>>().notNull(),
    replacedAt: timestamp('replaced_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.partId, t.version] })],
)
