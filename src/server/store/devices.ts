/** Other devices of a venue; their secrets are sealed as the cameras' passwords are. */
import { and, asc, eq } from 'drizzle-orm'
import * as v from 'valibot'
import { Device, type DeviceView } from '../../core/messages/device'
import type { Database } from './database'
import { device } from './schema'
import type { SecretBox } from './secrets'

export interface DeviceRow {
  view: DeviceView
  secret: string
}

export async function readDevices(
  db: Pick<Database, 'select'>,
  box: SecretBox,
  venueId: string,
): Promise<DeviceRow[]> {
  const rows = await db
    .select()
    .from(device)
    .where(eq(device.venueId, venueId))
    .orderBy(asc(device.createdAt))
  return rows.flatMap(({ id, data, secret: sealed }) => {
    const parsed = v.safeParse(Device, data)
    const secret = box.open(sealed).link ?? ''
    return parsed.success ? [{ secret, view: { id, ...parsed.output, hasSecret: secret !== '' } }] : []
  })
}

/** @param secret null: the one that is there stays @returns false if it belongs to another venue */
export async function putDevice(
  db: Pick<Database, 'insert' | 'select'>,
  box: SecretBox,
  venueId: string,
  id: string,
  data: Device,
  secret: string | null,
): Promise<boolean> {
  const [now] = await db.select({ venueId: device.venueId }).from(device).where(eq(device.id, id))
  if (now && now.venueId !== venueId) return false
  const sealed = secret === null ? {} : { secret: box.seal({ link: secret }) }
  await db
    .insert(device)
    .values({ id, venueId, data, ...sealed })
    .onConflictDoUpdate({ target: device.id, set: { data, ...sealed } })
  return true
}

export async function deleteDevice(db: Database, venueId: string, id: string): Promise<boolean> {
  const rows = await db
    .delete(device)
    .where(and(eq(device.id, id), eq(device.venueId, venueId)))
    .returning({ id: device.id })
  return rows.length > 0
}
