/** Ranges of addresses, as an operator writes them. */
import { networkInterfaces } from 'node:os'

/** The most addresses searched at once. */
export const MOST_HOSTS = 1024

const number = (text: string): number | null => {
  const parts = text.split('.').map(Number)
  if (!/^\d{1,3}(\.\d{1,3}){3}$/.test(text) || parts.some((p) => p > 255)) return null
  return parts.reduce((sum, p) => sum * 256 + p, 0)
}
const text = (n: number) => [n >>> 24, (n >>> 16) & 255, (n >>> 8) & 255, n & 255].join('.')

/**
 * "10.0.0.0/24", "10.0.0.5 - 10.0.0.40" or one address, as single addresses; without those of the
 * network itself and of all.
 * @returns a sentence where it makes no sense or is too large
 */
export function hostsOf(range: string): string[] | string {
  const bad = 'Enter the addresses as 10.0.0.0/24, or as 10.0.0.1 - 10.0.0.60.'
  const [left = '', right] = range.split(/\s*[-–]\s*/)
  const [base = '', bits] = left.trim().split('/')
  const first = number(base.trim())
  if (first === null) return bad
  let [low, high] = [first, first]
  if (bits !== undefined) {
    const size = Number(bits)
    if (!/^\d{1,2}$/.test(bits) || size < 8 || size > 32 || right !== undefined) return bad
    const count = 2 ** (32 - size)
    low = Math.floor(first / count) * count
    high = low + count - 1
    if (count > 2) [low, high] = [low + 1, high - 1]
  } else if (right !== undefined) {
    const last = number(right.trim())
    if (last === null || last < first) return bad
    high = last
  }
  if (high - low + 1 > MOST_HOSTS)
    return `That is too many addresses: search at most ${MOST_HOSTS} at a time.`
  return Array.from({ length: high - low + 1 }, (_, i) => text(low + i))
}

/** The networks that this computer is in, as /24. */
export function ownSubnets(): string[] {
  const all = Object.values(networkInterfaces())
    .flat()
    .filter((a) => a && a.family === 'IPv4' && !a.internal)
    .map((a) => `${a!.address.split('.').slice(0, 3).join('.')}.0/24`)
  return [...new Set(all)]
}
