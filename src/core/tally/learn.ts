/** Which address of a source is which camera: written down by hand, or learnt by what goes on air. */

export interface Lit {
  address: string
  program: boolean
}

/** @returns the addresses that are on program now and were not before */
export function newlyOnAir(before: readonly Lit[], now: readonly Lit[]): string[] {
  const lit = new Set(before.filter(({ program }) => program).map(({ address }) => address))
  return now.filter(({ address, program }) => program && !lit.has(address)).map(({ address }) => address)
}

type Map = Readonly<Record<string, string>>

export const addressesOf = (cameras: Map, camera: string): string[] =>
  Object.keys(cameras).filter((address) => cameras[address] === camera)

/** An address belongs to one camera: another one that had it loses it. */
export function withAddresses(
  cameras: Map,
  camera: string,
  addresses: readonly string[],
): Record<string, string> {
  const others = Object.entries(cameras).filter(([, id]) => id !== camera)
  return Object.fromEntries([...others, ...addresses.map((address) => [address, camera])])
}

/** "1, 7" as it is typed. */
export const typedAddresses = (text: string): string[] => [
  ...new Set(
    text
      .split(/[,;\s]+/)
      .map((part) => part.trim())
      .filter(Boolean),
  ),
]
