/** Who is at the Fenland Quiz Final and where they sit. Everybody here is made up. */

import type { Vec3 } from '../../core/optics/sphere'
import { seeded } from '../../core/seeded'

export type Hair = 'short' | 'long' | 'bun' | 'curly' | 'bald' | 'bob' | 'cap'

export interface Person {
  at: Vec3
  /** Which way they face, radians about y; 0 looks towards the benches (-z). */
  facing: number
  skin: string
  hair: Hair
  hairColour: string
  cloth: string
  pattern: 'plain' | 'stripe' | 'collar' | 'scarf'
  glasses: boolean
  beard: boolean
  /** Sets them apart in how they move. */
  phase: number
  standing: boolean
  scale: number
}

export interface Team {
  name: string
  cloth: string
  dark: string
  at: Vec3
  score: number
}

const SKINS = ['#E3B08A', '#6E452C', '#C98F6A', '#8C5C3B', '#F0C6A4', '#A8744E', '#D9A47C', '#4F3323']
const HAIRS = ['#2A1D17', '#5A3A22', '#8A5A2B', '#C79A4E', '#B9B2A6', '#7A2E1D', '#1B1A1E', '#E2DDD2']
const CLOTHS = [
  '#4A6B45',
  '#5A4A75',
  '#35587A',
  '#7A4038',
  '#8A6A2E',
  '#3F6F6B',
  '#7A5A48',
  '#53606E',
  '#8A4A66',
]
const HAIR_KINDS: Hair[] = ['short', 'long', 'bun', 'curly', 'bald', 'bob', 'short', 'long', 'cap']
const PATTERNS: Person['pattern'][] = ['plain', 'stripe', 'collar', 'plain', 'scarf']

export function person(seed: number, at: Vec3, facing = 0, extra: Partial<Person> = {}): Person {
  const random = seeded(seed * 7919 + 17)
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!
  const hair = pick(HAIR_KINDS)
  return {
    at,
    facing,
    skin: pick(SKINS),
    hair,
    hairColour: pick(HAIRS),
    cloth: pick(CLOTHS),
    pattern: pick(PATTERNS),
    glasses: random() < 0.28,
    beard: (hair === 'short' || hair === 'bald' || hair === 'cap') && random() < 0.4,
    phase: random() * 100,
    standing: false,
    scale: 0.93 + random() * 0.12,
    ...extra,
  }
}

export const TEAMS: readonly Team[] = [
  { name: 'Bitterns', cloth: '#8A7A32', dark: '#66591F', at: [-3.7, 0, 12.4], score: 42 },
  { name: 'Avocets', cloth: '#4F7C8C', dark: '#345867', at: [0, 0, 12.9], score: 38 },
  { name: 'Curlews', cloth: '#96604A', dark: '#6E4231', at: [3.7, 0, 12.4], score: 45 },
  { name: 'Lapwings', cloth: '#4A7D58', dark: '#31593D', at: [-4.4, 1.0, 15.6], score: 29 },
  { name: 'Godwits', cloth: '#8A5F78', dark: '#644255', at: [0, 1.0, 16.1], score: 33 },
  { name: 'Snipes', cloth: '#66679C', dark: '#474876', at: [4.4, 1.0, 15.6], score: 40 },
]

/** Four to a table, facing the host's side and the benches. */
export function tablePeople(): Person[] {
  return TEAMS.flatMap((team, t) =>
    [0, 1, 2, 3].map((seat) =>
      person(t * 4 + seat + 1, [team.at[0] - 0.99 + seat * 0.66, team.at[1], team.at[2] + 0.42]),
    ),
  )
}

export const BENCH_ROWS = 4
export const SEATS_PER_ROW = 11

/** The numbered benches, row by row, facing the stage. */
export function benchSeat(row: number, seat: number): Vec3 {
  return [-6.5 + seat * 1.3, row * 0.32, 4.2 - row * 1.25]
}

export function benchPeople(): Person[] {
  const random = seeded(4242)
  const out: Person[] = []
  for (let row = 0; row < BENCH_ROWS; row++) {
    for (let seat = 0; seat < SEATS_PER_ROW; seat++) {
      if (random() < 0.16) continue
      const jitter = (random() - 0.5) * 0.2
      const [x, y, z] = benchSeat(row, seat)
      out.push(person(200 + row * 20 + seat, [x + jitter, y, z], Math.PI))
    }
  }
  return out
}

export const HOST = person(501, [-6.2, 1.0, 18.1], 0.25, {
  standing: true,
  cloth: '#2F3E55',
  pattern: 'collar',
  hair: 'bob',
  hairColour: '#7A2E1D',
  skin: '#D9A47C',
  glasses: true,
  beard: false,
})

export const TRIO: readonly { person: Person; plays: 'fiddle' | 'guitar' | 'drum' }[] = [
  { person: person(601, [5.3, 1.0, 19.2], -0.2, { hair: 'long', cloth: '#A9682E' }), plays: 'fiddle' },
  { person: person(603, [6.5, 1.0, 19.0], -0.3, { hair: 'bun', cloth: '#2F5F55' }), plays: 'guitar' },
  {
    person: person(608, [7.7, 1.0, 19.2], -0.4, { hair: 'cap', cloth: '#6E3B33', beard: true }),
    plays: 'drum',
  },
]
