/** Osier Barn itself: floor, walls, roof, beams, windows, stage. Metres. */
import type { Vec3 } from '../../core/optics/sphere'
import { tone } from './figure'
import type { Projector } from './projector'

export const BARN = { left: -9, right: 9, front: -2, back: 22, eaves: 4.6, ridge: 7.4 }
const STAGE_Z = 14.4
const STAGE_Y = 1.0

const WOOD = '#6B4A35'
const DARK_WOOD = '#3A281E'
const FLOOR = '#5A4331'

/** Height of the roof above a point across the barn. */
function roofAt(x: number): number {
  return BARN.ridge - ((BARN.ridge - BARN.eaves) * Math.abs(x)) / BARN.right
}

function floor(view: Projector): void {
  const { left, right, front, back } = BARN
  view.shade(
    [
      [left, 0, front],
      [right, 0, front],
      [right, 0, back],
      [left, 0, back],
    ],
    [0, 0, front],
    [0, 0, 15],
    [tone(FLOOR, 0.55), tone(FLOOR, 1), tone(FLOOR, 0.8)],
  )
  for (let x = left + 0.6; x < right; x += 0.6) {
    view.beam([x, 0.001, front], [x, 0.001, back], 0.018, 'rgba(30,18,10,0.42)')
  }
}

function stage(view: Projector): void {
  const { left, right, back } = BARN
  const y = STAGE_Y
  view.fill(
    [
      [left, 0, STAGE_Z],
      [right, 0, STAGE_Z],
      [right, y, STAGE_Z],
      [left, y, STAGE_Z],
    ],
    '#2E211A',
  )
  for (let x = left + 0.45; x < right; x += 0.9) {
    view.beam([x, 0.02, STAGE_Z], [x, y - 0.06, STAGE_Z], 0.02, 'rgba(0,0,0,0.35)')
  }
  view.shade(
    [
      [left, y, STAGE_Z],
      [right, y, STAGE_Z],
      [right, y, back],
      [left, y, back],
    ],
    [0, y, STAGE_Z],
    [0, y, back],
    ['#7A5B40', '#5C4230'],
  )
  for (let z = STAGE_Z + 0.5; z < back; z += 0.5) {
    view.beam([left, y + 0.001, z], [right, y + 0.001, z], 0.014, 'rgba(30,18,10,0.35)')
  }
  view.fill(
    [
      [left, y - 0.07, STAGE_Z - 0.005],
      [right, y - 0.07, STAGE_Z - 0.005],
      [right, y, STAGE_Z - 0.005],
      [left, y, STAGE_Z - 0.005],
    ],
    '#94714F',
  )
}

/** A gable wall of upright planks at a depth z. */
function gable(view: Projector, z: number, light: number): void {
  const { left, right, eaves, ridge } = BARN
  view.shade(
    [
      [left, 0, z],
      [right, 0, z],
      [right, eaves, z],
      [0, ridge, z],
      [left, eaves, z],
    ],
    [0, 0, z],
    [0, ridge, z],
    [tone(WOOD, light), tone(WOOD, light * 0.92), tone(WOOD, light * 0.5)],
  )
  for (let i = 0, x = left; x <= right + 0.01; x += 0.5, i++) {
    view.beam([x, 0, z], [x, roofAt(x), z], 0.025, 'rgba(25,14,8,0.5)')
    if (i % 3 === 1) {
      view.fill(
        [
          [x, 0, z],
          [x + 0.5, 0, z],
          [x + 0.5, roofAt(x + 0.5), z],
          [x, roofAt(x), z],
        ],
        'rgba(20,10,4,0.13)',
      )
    }
  }
}

function sideWall(view: Projector, x: number): void {
  const { front, back, eaves } = BARN
  view.shade(
    [
      [x, 0, front],
      [x, 0, back],
      [x, eaves, back],
      [x, eaves, front],
    ],
    [x, 0, 8],
    [x, eaves, 8],
    [tone(WOOD, 0.78), tone(WOOD, 0.66), tone(WOOD, 0.45)],
  )
  for (let y = 0.5; y < eaves; y += 0.5) view.beam([x, y, front], [x, y, back], 0.025, 'rgba(25,14,8,0.42)')
  for (const z of [1.5, 6.5, 11.5, 17.5]) window(view, x, z)
}

function window(view: Projector, x: number, z: number): void {
  const inward = x < 0 ? 0.01 : -0.01
  const w = 0.85
  const pane: Vec3[] = [
    [x + inward, 1.6, z - w],
    [x + inward, 1.6, z + w],
    [x + inward, 3.3, z + w],
    [x + inward, 3.3, z - w],
  ]
  view.shade(pane, [x, 1.6, z], [x, 3.3, z], ['#C58A5E', '#5A6E86', '#25384F'])
  // Reeds outside against the last light.
  for (let i = 0; i < 9; i++) {
    const at = z - w + 0.12 + i * 0.19
    view.beam(
      [x + inward, 1.6, at],
      [x + inward, 2.0 + 0.5 * Math.abs(Math.sin(i * 1.9 + z)), at + 0.06],
      0.02,
      '#22313A',
    )
  }
  for (const [a, b] of [
    [
      [x + inward, 1.6, z],
      [x + inward, 3.3, z],
    ],
    [
      [x + inward, 2.45, z - w],
      [x + inward, 2.45, z + w],
    ],
  ] as [Vec3, Vec3][])
    view.beam(a, b, 0.06, DARK_WOOD)
  for (let i = 0; i < 4; i++) view.beam(pane[i]!, pane[(i + 1) % 4]!, 0.13, DARK_WOOD)
}

function roof(view: Projector): void {
  const { left, right, front, back, eaves, ridge } = BARN
  for (const side of [left, right]) {
    view.shade(
      [
        [side, eaves, front],
        [side, eaves, back],
        [0, ridge, back],
        [0, ridge, front],
      ],
      [side, eaves, 10],
      [0, ridge, 10],
      ['#33231A', '#1E1511'],
    )
    for (let i = 1; i < 6; i++) {
      const x = (side * i) / 6
      view.beam([x, roofAt(x), front], [x, roofAt(x), back], 0.07, '#2A1C15')
    }
  }
}

function truss(view: Projector, z: number): void {
  const { left, right, eaves, ridge } = BARN
  const wood = '#4A3325'
  view.beam([left, eaves - 0.05, z], [right, eaves - 0.05, z], 0.26, wood)
  view.beam([left, eaves - 0.16, z - 0.01], [right, eaves - 0.16, z - 0.01], 0.05, '#2C1D15')
  view.beam([left, eaves, z], [0, ridge, z], 0.22, wood)
  view.beam([right, eaves, z], [0, ridge, z], 0.22, wood)
  view.beam([0, eaves, z], [0, ridge, z], 0.2, wood)
  view.beam([-4.5, eaves, z], [-2.2, roofAt(2.2), z], 0.14, wood)
  view.beam([4.5, eaves, z], [2.2, roofAt(2.2), z], 0.14, wood)
  for (const x of [left + 0.14, right - 0.14]) view.beam([x, 0, z], [x, eaves, z], 0.28, '#452F22')
}

function bunting(view: Projector, z: number): void {
  const colours = ['#B8894A', '#5F7F86', '#96604A', '#6C7A4E', '#8A5F78']
  const n = 26
  const at = (i: number): Vec3 => {
    const s = i / n
    const sag = 0.45 * Math.sin(((s * 3) % 1) * Math.PI)
    return [-8.4 + 16.8 * s, (z > 20 ? 5.75 : 5.1) - sag, z]
  }
  for (let i = 0; i < n; i++) {
    const a = at(i)
    const b = at(i + 1)
    view.beam(a, b, 0.015, '#C9BDA6')
    const mid: Vec3 = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2 - 0.36, z]
    view.fill([[a[0] + 0.06, a[1], z], [b[0] - 0.06, b[1], z], mid], colours[i % colours.length]!)
  }
}

/** All that stands behind everything else, from far to near. */
export function drawBarn(view: Projector): void {
  floor(view)
  sideWall(view, BARN.left)
  sideWall(view, BARN.right)
  gable(view, BARN.back, 1)
  gable(view, BARN.front, 0.55)
  roof(view)
  stage(view)
}

/** Beams and bunting, each with the depth at which it hangs. */
export function barnParts(): { at: Vec3; draw: (view: Projector) => void }[] {
  const parts: { at: Vec3; draw: (view: Projector) => void }[] = []
  for (let z = 0; z <= 17; z += 4.2) parts.push({ at: [0, 5, z], draw: (view) => truss(view, z) })
  for (const z of [21.2, 11.4]) parts.push({ at: [0, 4, z], draw: (view) => bunting(view, z) })
  return parts
}
