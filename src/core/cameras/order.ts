/** Sorting cameras by where they are reached. */
import { addressText, type Connection } from './connection'

/** Each number of an IPv4 address or name padded, so that text order is number order. */
const sortable = (text: string) => text.toLowerCase().replace(/\d+/g, (digits) => digits.padStart(6, '0'))

export function byAddress(a: { connection: Connection }, b: { connection: Connection }): number {
  const [x, y] = [sortable(addressText(a.connection)), sortable(addressText(b.connection))]
  return x < y ? -1 : x > y ? 1 : 0
}
