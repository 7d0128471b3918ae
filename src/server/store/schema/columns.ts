/** Columns that many tables have. */
import { customType, timestamp, uuid } from 'drizzle-orm/pg-core'

export const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' })

export const id = () => uuid('id').primaryKey().defaultRandom()

export const createdAt = () => timestamp('created_at', { withTimezone: true }).notNull().defaultNow()
