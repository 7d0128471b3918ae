/** People and how they drive. */
import { asc, eq, isNull, sql } from 'drizzle-orm'
import * as v from 'valibot'
import { Controls, USUAL_CONTROLS } from '../../core/controls/controls'
import type { Database } from './database'
import { person } from './schema'

export const PersonView = v.object({ id: v.string(), name: v.string(), controls: Controls })
export type PersonView = v.InferOutput<typeof PersonView>

const FIRST = 'Operator'

/**
 * Never empty: somebody always sits there. Controls that can no longer be read are replaced by the defaults.
 * @param own whoever has signed in sees themselves alone; null: nobody signs in here
 */
export async function readPersons(db: Database, own: string | null = null): Promise<PersonView[]> {
  const rows = await db
    .select()
    .from(person)
    .where(own === null ? isNull(person.invitationId) : eq(person.id, own))
    .orderBy(asc(person.createdAt))
  if (rows.length === 0) return [await addPerson(db, FIRST)]
  return rows.map(({ id, name, controls }) => {
    const parsed = v.safeParse(Controls, controls)
    return { id, name, controls: parsed.success ? parsed.output : USUAL_CONTROLS }
  })
}

export async function addPerson(db: Database, name: string): Promise<PersonView> {
  const [row] = await db.transaction((tx) =>
    tx.insert(person).values({ name, controls: USUAL_CONTROLS }).returning(),
  )
  return { id: row!.id, name: row!.name, controls: USUAL_CONTROLS }
}

/** @returns false if it does not exist */
export async function changePerson(
  db: Database,
  id: string,
  change: { name?: string; controls?: Controls },
): Promise<boolean> {
  const rows = await db.transaction((tx) =>
    tx.update(person).set(change).where(eq(person.id, id)).returning({ id: person.id }),
  )
  return rows.length > 0
}

/** The last one stays. @returns false if it does not exist, or the last */
export async function deletePerson(db: Database, id: string): Promise<boolean> {
  const others = sql`(select count(*) from ${person}) > 1`
  const rows = await db.transaction((tx) =>
    tx
      .delete(person)
      .where(sql`${eq(person.id, id)} and ${others}`)
      .returning({ id: person.id }),
  )
  return rows.length > 0
}
