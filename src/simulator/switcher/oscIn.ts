/** As much of OSC 1.0 as the stand-in switcher takes: an address, and one number at most. */

const textEnd = (bytes: Buffer, at: number) => {
  const end = bytes.indexOf(0, at)
  return end < 0 ? null : { text: bytes.toString('ascii', at, end), next: (Math.floor(end / 4) + 1) * 4 }
}

/** @returns null where it is nothing that the switcher takes */
export function readOrder(bytes: Buffer): { path: string; value: number | null } | null {
  const path = textEnd(bytes, 0)
  if (!path?.text.startsWith('/')) return null
  const types = textEnd(bytes, path.next)
  if (!types || types.text === ',') return { path: path.text, value: null }
  if (types.next + 4 > bytes.length) return null
  if (types.text === ',i') return { path: path.text, value: bytes.readInt32BE(types.next) }
  if (types.text === ',f') return { path: path.text, value: bytes.readFloatBE(types.next) }
  return null
}
