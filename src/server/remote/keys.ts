/** Keys of programs and button boxes: long and random, so only their hashes are kept. */
import { eq } from 'drizzle-orm'
import type * as v from 'valibot'
import type { KeyView, NewKey, RemoteRight } from '../../core/remote/settings'
import { hashOf, newToken } from '../people/tokens'
import type { Database } from '../store/database'
import { remoteKey } from '../store/schema'

/** When it was last used is kept no more often than this, ms. */
const KEEP_USE_MS = 60_000

interface Known {
  id: string
  name: string
  rights: RemoteRight[]
  endsAt: Date | null
  lastUsedAt: Date | null
}

export class RemoteKeys {
  private known = new Map<string, Known>()

  private constructor(private readonly db: Database) {}

  static async open(db: Database): Promise<RemoteKeys> {
    const keys = new RemoteKeys(db)
    await keys.read()
    return keys
  }

  get all(): KeyView[] {
    return [...this.known.values()].map(({ id, name, rights, endsAt, lastUsedAt }) => ({
      ...{ id, name, rights },
      endsAt: endsAt?.toISOString() ?? null,
      lastUsedAt: lastUsedAt?.toISOString() ?? null,
    }))
  }

  /** Whose key this is; null if it is nobody's, or its time is over. */
  holderOf(key: string, nowMs: number): Known | null {
    const found = this.known.get(hashOf(key))
    if (!found || (found.endsAt !== null && found.endsAt.getTime() <= nowMs)) return null
    if (nowMs - (found.lastUsedAt?.getTime() ?? 0) > KEEP_USE_MS) {
      found.lastUsedAt = new Date(nowMs)
      void this.db
        .update(remoteKey)
        .set({ lastUsedAt: found.lastUsedAt })
        .where(eq(remoteKey.id, found.id))
        .catch(() => {})
    }
    return found
  }

  /** @returns the key, which is shown this once */
  async add({ name, rights, endsAt }: v.InferOutput<typeof NewKey>): Promise<string> {
    const key = newToken()
    await this.db
      .insert(remoteKey)
      .values({ name, rights, hash: hashOf(key), endsAt: endsAt === null ? null : new Date(endsAt) })
    await this.read()
    return key
  }

  /** @returns false if there is no such key */
  async remove(id: string): Promise<boolean> {
    const gone = await this.db.delete(remoteKey).where(eq(remoteKey.id, id)).returning({ id: remoteKey.id })
    await this.read()
    return gone.length > 0
  }

  private async read(): Promise<void> {
    const rows = await this.db.select().from(remoteKey).orderBy(remoteKey.createdAt)
    this.known = new Map(
      rows.map(({ id, name, rights, endsAt, lastUsedAt, hash }) => [
        hash,
        { id, name, rights, endsAt, lastUsedAt },
      ]),
    )
  }
}
