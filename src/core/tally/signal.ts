/** What a tally packet says of one address, before it is known which camera that is. */

/** A lamp of TSL 5.0. */
export type Colour = 'off' | 'red' | 'green' | 'amber'

export type Signal =
  /** TSL 3.1: four lamps, of which each desk gives two a meaning of its own. */
  | { kind: 'lamps'; address: string; label: string; lamps: readonly [boolean, boolean, boolean, boolean] }
  /** TSL 5.0: three lamps with colours. */
  | { kind: 'colours'; address: string; label: string; left: Colour; text: Colour; right: Colour }
  /** OSC: a message with its first argument. */
  | { kind: 'message'; path: string; value: string | number | boolean | null }
