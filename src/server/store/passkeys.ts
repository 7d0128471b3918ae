/** Passkeys, as they are kept. */
import { and, asc, eq } from 'drizzle-orm'
import type { Database } from './database'
import { passkey } from './schema'

export type KeptPasskey = typeof passkey.$inferSelect

export const passkeyStore = (db: Database) => ({
  of: (personId: string): Promise<KeptPasskey[]> =>
    db.select().from(passkey).where(eq(passkey.personId, personId)).orderBy(asc(passkey.createdAt)),
  async byCredential(credential: string): Promise<KeptPasskey | null> {
    const [found] = await db.select().from(passkey).where(eq(passkey.credential, credential))
    return found ?? null
  },
  /** @returns false if this desk has it already */
  async add(
    row: Pick<KeptPasskey, 'personId' | 'name' | 'credential' | 'publicKey' | 'counter'>,
  ): Promise<boolean> {
    const rows = await db.insert(passkey).values(row).onConflictDoNothing().returning({ id: passkey.id })
    return rows.length > 0
  },
  async used(id: string, counter: number): Promise<void> {
    await db.update(passkey).set({ counter, lastUsedAt: new Date() }).where(eq(passkey.id, id))
  },
  async remove(personId: string, id: string): Promise<boolean> {
    const rows = await db
      .delete(passkey)
      .where(and(eq(passkey.id, id), eq(passkey.personId, personId)))
      .returning({ id: passkey.id })
    return rows.length > 0
  },
})
export type PasskeyStore = ReturnType<typeof passkeyStore>
