/** The room of an event. */
import { and, eq, sql } from 'drizzle-orm'
import { NO_ROOM, type RoomKept, type RoomSolved, type RoomView } from '../../core/room/room'
import { type Database, patiently } from './database'
import { room } from './schema'

type Reads = Pick<Database, 'select'>

const NONE: RoomView = { version: 0, ...NO_ROOM, solved: null, picture: null }

export async function readRoom(db: Reads, eventId: string): Promise<RoomView> {
  const { version, kept, solved, pictureSize } = room
  // The picture itself stays where it is.
  const tag = sql<string | null>`left(md5(${room.picture}), 12)`
  const [row] = await db
    .select({ version, kept, solved, pictureSize, tag })
    .from(room)
    .where(eq(room.eventId, eventId))
  if (!row) return NONE
  return {
    ...{ version: row.version, ...row.kept, solved: row.solved },
    picture: row.tag !== null && row.pictureSize ? { tag: row.tag, ...row.pictureSize } : null,
  }
}

/**
 * @param version the one that this replaces, 0 if there was none
 * @returns its new version; null if somebody else was sooner
 */
export async function putRoom(
  db: Database,
  eventId: string,
  version: number,
  kept: RoomKept,
  solved: RoomSolved | null,
): Promise<number | null> {
  const patient = patiently(db)
  const next = version + 1
  const rows =
    version === 0
      ? await patient
          .insert(room)
          .values({ eventId, version: next, kept, solved })
          .onConflictDoNothing()
          .returning({ version: room.version })
      : await patient
          .update(room)
          .set({ version: next, kept, solved })
          .where(and(eq(room.eventId, eventId), eq(room.version, version)))
          .returning({ version: room.version })
  return rows[0]?.version ?? null
}

/** @param picture a JPEG; null takes it away, with what was placed in it */
export async function putPlanPicture(
  db: Database,
  eventId: string,
  picture: { jpeg: Uint8Array; width: number; height: number } | null,
): Promise<void> {
  await patiently(db).transaction(async (tx) => {
    const now = await readRoom(tx, eventId)
    const { points, length, pins, placed } = now
    const kept: RoomKept = { points, length, pins: picture ? pins : [], placed: picture ? placed : [] }
    const set = {
      ...{ kept, version: now.version + 1 },
      picture: picture && Buffer.from(picture.jpeg),
      pictureSize: picture && { width: picture.width, height: picture.height },
    }
    await tx
      .insert(room)
      .values({ eventId, ...set })
      .onConflictDoUpdate({ target: room.eventId, set })
  })
}

export async function readPlanPicture(db: Reads, eventId: string): Promise<Uint8Array | null> {
  const [row] = await db.select({ picture: room.picture }).from(room).where(eq(room.eventId, eventId))
  return row?.picture ?? null
}
