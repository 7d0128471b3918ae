/** What stands in the barn: team tables, buzzer row, lectern, scoreboard, benches, lamps. Metres. */

import type { SKRSContext2D } from '@napi-rs/canvas'
import type { Vec3 } from '../../core/optics/sphere'
import { BENCH_ROWS, benchSeat, SEATS_PER_ROW, TEAMS, type Team } from './cast'
import { tone } from './figure'
import type { House } from './house'
import type { Projector } from './projector'

export const FACE = 'Atkinson Hyperlegible Next'
const FRONT: Vec3 = [1, 0, 0]
const UP: Vec3 = [0, 1, 0]

/** Text upright on a plane whose y points up. */
function write(
  ctx: SKRSContext2D,
  text: string,
  x: number,
  y: number,
  sizeM: number,
  align: 'left' | 'center' | 'right',
  colour: string,
  weight = 700,
): void {
  ctx.save()
  ctx.translate(x, y)
  // Fonts are set at 100 units and scaled, since sizes below a pixel are not drawn.
  ctx.scale(sizeM / 100, -sizeM / 100)
  ctx.font = `${weight} 100px "${FACE}"`
  ctx.textAlign = align
  ctx.textBaseline = 'alphabetic'
  ctx.fillStyle = colour
  ctx.fillText(text, 0, 0)
  ctx.restore()
}

/** A wading bird in a few strokes, as each team has on its cloth. */
function emblem(ctx: SKRSContext2D, x: number, y: number, size: number, bend: number, colour: string): void {
  ctx.save()
  ctx.translate(x, y)
  ctx.scale(size, size)
  ctx.fillStyle = colour
  ctx.beginPath()
  ctx.ellipse(0, 0.1, 0.34, 0.19, 0.25, 0, Math.PI * 2)
  ctx.fill()
  ctx.beginPath()
  ctx.ellipse(0.33, 0.4, 0.11, 0.1, 0, 0, Math.PI * 2)
  ctx.fill()
  ctx.strokeStyle = colour
  ctx.lineWidth = 0.1
  ctx.lineCap = 'round'
  ctx.beginPath()
  ctx.moveTo(0.22, 0.2)
  ctx.lineTo(0.32, 0.38)
  ctx.stroke()
  ctx.lineWidth = 0.045
  ctx.beginPath()
  ctx.moveTo(0.42, 0.41)
  ctx.quadraticCurveTo(0.62, 0.42 + bend * 0.1, 0.82, 0.36 - bend * 0.18)
  ctx.moveTo(-0.04, -0.05)
  ctx.lineTo(-0.06, -0.48)
  ctx.moveTo(0.1, -0.05)
  ctx.lineTo(0.12, -0.48)
  ctx.stroke()
  ctx.restore()
}

export function drawTable(view: Projector, team: Team, index: number): void {
  const [x, y, z] = team.at
  const w = 1.4
  const h = 0.78
  const d = 0.34
  view.fill(
    [
      [x - w, y + 0.004, z - d - 0.15],
      [x + w, y + 0.004, z - d - 0.15],
      [x + w, y + 0.004, z + d],
      [x - w, y + 0.004, z + d],
    ],
    'rgba(0,0,0,0.28)',
  )
  view.shade(
    [
      [x - w, y + h, z - d],
      [x + w, y + h, z - d],
      [x + w, y + h, z + d],
      [x - w, y + h, z + d],
    ],
    [x, y + h, z - d],
    [x, y + h, z + d],
    [tone(team.cloth, 1.25), tone(team.cloth, 1.05)],
  )
  for (const side of [-w, w]) {
    view.fill(
      [
        [x + side, y, z - d],
        [x + side, y, z + d],
        [x + side, y + h, z + d],
        [x + side, y + h, z - d],
      ],
      tone(team.dark, 0.8),
    )
  }
  view.shade(
    [
      [x - w, y + 0.05, z - d],
      [x + w, y + 0.05, z - d],
      [x + w, y + h, z - d],
      [x - w, y + h, z - d],
    ],
    [x, y + h, z - d],
    [x, y, z - d],
    [team.cloth, team.dark],
  )
  for (let i = 1; i < 8; i++) {
    const fx = x - w + (i * 2 * w) / 8
    view.beam(
      [fx, y + 0.05, z - d - 0.004],
      [fx + 0.02, y + h - 0.1, z - d - 0.004],
      0.03,
      'rgba(0,0,0,0.10)',
    )
  }
  view.beam(
    [x - w, y + h - 0.02, z - d - 0.005],
    [x + w, y + h - 0.02, z - d - 0.005],
    0.05,
    tone(team.cloth, 1.4),
  )
  view.plane([x, y + 0.36, z - d - 0.01], FRONT, UP, 1.6, (ctx) => {
    write(ctx, team.name, 0.14, -0.1, 0.34, 'center', '#F3E9D2')
    emblem(ctx, -0.98, 0.02, 0.34, index % 3 === 1 ? -1 : 1, '#F3E9D2')
    write(ctx, 'Fenland Quiz Final', 0.14, -0.235, 0.075, 'center', 'rgba(243,233,210,0.72)', 400)
  })
  tableTop(view, x, y + h, z, index)
}

/** Glasses, note pads and a microphone on a table. */
function tableTop(view: Projector, x: number, y: number, z: number, index: number): void {
  for (let seat = 0; seat < 4; seat++) {
    const sx = x - 0.99 + seat * 0.66
    view.fill(
      [
        [sx - 0.14, y + 0.005, z - 0.2],
        [sx + 0.1, y + 0.005, z - 0.2],
        [sx + 0.12, y + 0.005, z + 0.02],
        [sx - 0.12, y + 0.005, z + 0.02],
      ],
      '#E9E2D2',
    )
    view.plane([sx + 0.24, y, z - 0.12], FRONT, UP, 0.3, (ctx) => {
      ctx.fillStyle = 'rgba(190,215,220,0.55)'
      ctx.beginPath()
      ctx.moveTo(-0.03, 0)
      ctx.lineTo(-0.04, 0.13)
      ctx.lineTo(0.04, 0.13)
      ctx.lineTo(0.03, 0)
      ctx.fill()
      ctx.fillStyle = index % 2 ? 'rgba(120,170,190,0.7)' : 'rgba(200,150,70,0.75)'
      ctx.fillRect(-0.033, 0, 0.066, 0.08)
    })
  }
  view.plane([x, y, z - 0.15], FRONT, UP, 0.6, (ctx) => {
    ctx.fillStyle = '#15181A'
    ctx.fillRect(-0.07, 0, 0.14, 0.02)
    ctx.strokeStyle = '#15181A'
    ctx.lineWidth = 0.016
    ctx.beginPath()
    ctx.moveTo(0, 0.02)
    ctx.quadraticCurveTo(0, 0.2, 0.06, 0.27)
    ctx.stroke()
    ctx.beginPath()
    ctx.ellipse(0.075, 0.285, 0.03, 0.024, 0.7, 0, Math.PI * 2)
    ctx.fill()
  })
}

/** The row of six buzzers in front of the tables; one lights up now and then. */
export function drawBuzzers(view: Projector, t: number): void {
  const z = 10.3
  view.fill(
    [
      [-2.7, 0.7, z],
      [2.7, 0.7, z],
      [2.7, 0.7, z + 0.5],
      [-2.7, 0.7, z + 0.5],
    ],
    '#6E5138',
  )
  view.shade(
    [
      [-2.7, 0, z],
      [2.7, 0, z],
      [2.7, 0.7, z],
      [-2.7, 0.7, z],
    ],
    [0, 0.7, z],
    [0, 0, z],
    ['#4A3526', '#2B1E16'],
  )
  const lit = Math.floor(t / 5) % 9
  TEAMS.forEach((team, i) => {
    const x = -2.25 + i * 0.9
    view.plane([x, 0.7, z + 0.2], FRONT, UP, 0.5, (ctx) => {
      ctx.fillStyle = '#1B1512'
      ctx.fillRect(-0.17, 0, 0.34, 0.07)
      ctx.fillStyle = lit === i ? '#FFE9A8' : tone(team.cloth, 1.15)
      ctx.beginPath()
      ctx.ellipse(0, 0.07, 0.13, 0.1, 0, 0, Math.PI)
      ctx.fill()
      if (lit === i) {
        const glow = ctx.createRadialGradient(0, 0.1, 0.03, 0, 0.1, 0.42)
        glow.addColorStop(0, 'rgba(255,226,150,0.75)')
        glow.addColorStop(1, 'rgba(255,226,150,0)')
        ctx.fillStyle = glow
        ctx.fillRect(-0.45, -0.35, 0.9, 0.9)
      }
    })
    view.plane([x, 0.42, z - 0.005], FRONT, UP, 0.4, (ctx) =>
      write(ctx, team.name, 0, -0.04, 0.15, 'center', '#E4D7BC'),
    )
  })
}

export function drawLectern(view: Projector): void {
  const [x, y, z] = [-6.2, 1.0, 17.5]
  view.fill(
    [
      [x - 0.42, y, z],
      [x + 0.42, y, z],
      [x + 0.34, y + 1.0, z],
      [x - 0.34, y + 1.0, z],
    ],
    '#7A5436',
  )
  view.fill(
    [
      [x - 0.3, y + 0.1, z - 0.005],
      [x + 0.3, y + 0.1, z - 0.005],
      [x + 0.25, y + 0.86, z - 0.005],
      [x - 0.25, y + 0.86, z - 0.005],
    ],
    '#5E3F28',
  )
  view.fill(
    [
      [x - 0.48, y + 1.0, z - 0.1],
      [x + 0.48, y + 1.0, z - 0.1],
      [x + 0.48, y + 1.14, z + 0.34],
      [x - 0.48, y + 1.14, z + 0.34],
    ],
    '#94693F',
  )
  view.plane([x, y + 0.5, z - 0.01], FRONT, UP, 0.6, (ctx) => {
    emblem(ctx, -0.02, 0.08, 0.36, 1, '#D9B777')
    write(ctx, 'Osier Barn', 0, -0.24, 0.09, 'center', '#D9B777')
  })
}

/** The scoreboard on the back wall, with a clock that runs. */
export function drawScoreboard(view: Projector, t: number, house?: House): void {
  const [x, y, z] = [0, 3.75, 21.6]
  view.fill(
    [
      [x - 2.75, y - 1.3, z - 0.03],
      [x + 2.75, y - 1.3, z - 0.03],
      [x + 2.75, y + 1.2, z - 0.03],
      [x - 2.75, y + 1.2, z - 0.03],
    ],
    '#B08A4E',
  )
  view.fill(
    [
      [x - 2.62, y - 1.18, z - 0.05],
      [x + 2.62, y - 1.18, z - 0.05],
      [x + 2.62, y + 1.08, z - 0.05],
      [x - 2.62, y + 1.08, z - 0.05],
    ],
    '#10191C',
  )
  view.plane([x, y, z - 0.06], FRONT, UP, 3.2, (ctx) => {
    write(ctx, house?.title ?? 'Fenland Quiz Final', -2.4, 0.76, 0.24, 'left', '#D9B777')
    const clock = 120 - (Math.floor(t) % 120)
    const text = `${Math.floor(clock / 60)}:${String(clock % 60).padStart(2, '0')}`
    write(ctx, text, 2.4, 0.76, 0.24, 'right', '#D9B777')
    ctx.fillStyle = '#B08A4E'
    ctx.fillRect(-2.4, 0.62, 4.8, 0.014)
    TEAMS.forEach((team, i) => {
      const left = i < 3 ? -2.4 : 0.16
      const row = 0.24 - (i % 3) * 0.5
      ctx.fillStyle = team.cloth
      ctx.fillRect(left, row - 0.05, 0.09, 0.3)
      write(ctx, team.name, left + 0.2, row, 0.29, 'left', '#EDE6D6')
      write(ctx, String(house?.scores[i] ?? team.score), left + 2.24, row, 0.29, 'right', '#EDE6D6')
    })
  })
}

/** One row of benches; each place has its number. */
export function drawBench(view: Projector, row: number): void {
  const [, y] = benchSeat(row, 0)
  const z = benchSeat(row, 0)[2]
  const wood = '#6A4C34'
  if (row > 0) {
    view.fill(
      [
        [-7.4, 0, z + 0.55],
        [7.4, 0, z + 0.55],
        [7.4, y, z + 0.55],
        [-7.4, y, z + 0.55],
      ],
      '#2A1D15',
    )
    view.fill(
      [
        [-7.4, y, z + 0.55],
        [7.4, y, z + 0.55],
        [7.4, y, z - 0.7],
        [-7.4, y, z - 0.7],
      ],
      '#3E2B1F',
    )
  }
  view.fill(
    [
      [-7.2, y + 0.45, z + 0.28],
      [7.2, y + 0.45, z + 0.28],
      [7.2, y + 0.45, z - 0.25],
      [-7.2, y + 0.45, z - 0.25],
    ],
    wood,
  )
  view.fill(
    [
      [-7.2, y + 0.3, z + 0.28],
      [7.2, y + 0.3, z + 0.28],
      [7.2, y + 0.45, z + 0.28],
      [-7.2, y + 0.45, z + 0.28],
    ],
    tone(wood, 0.8),
  )
  for (let seat = 0; seat < SEATS_PER_ROW; seat++) {
    const [sx] = benchSeat(row, seat)
    const number = row * SEATS_PER_ROW + seat + 1
    view.plane([sx, y + 0.375, z + 0.29], [-1, 0, 0], UP, 0.2, (ctx) => {
      ctx.fillStyle = '#E4D7BC'
      ctx.fillRect(-0.09, -0.06, 0.18, 0.12)
      write(ctx, String(number), 0, -0.035, 0.1, 'center', '#2B1E16')
    })
  }
}
export const BENCHES = BENCH_ROWS

export const LAMPS: readonly Vec3[] = [-5.6, 5.6].flatMap((x) =>
  [5.2, 9.6, 14, 18.4].map((z): Vec3 => [x, 4.1, z]),
)

export function drawLamp(view: Projector, [x, y, z]: Vec3): void {
  view.beam([x, y + 0.2, z], [x, 5.6, z], 0.02, '#1A1310')
  const bearing = view.bearingFrom([x, y, z])
  view.plane([x, y, z], [Math.cos(bearing), 0, -Math.sin(bearing)], UP, 1.3, (ctx) => {
    const glow = ctx.createRadialGradient(0, -0.05, 0.04, 0, -0.05, 1.1)
    glow.addColorStop(0, 'rgba(255,214,140,0.55)')
    glow.addColorStop(0.3, 'rgba(255,190,110,0.16)')
    glow.addColorStop(1, 'rgba(255,190,110,0)')
    ctx.globalCompositeOperation = 'lighter'
    ctx.fillStyle = glow
    ctx.fillRect(-1.2, -1.2, 2.4, 2.4)
    ctx.globalCompositeOperation = 'source-over'
    ctx.fillStyle = '#2E3A3C'
    ctx.beginPath()
    ctx.moveTo(-0.06, 0.22)
    ctx.lineTo(0.06, 0.22)
    ctx.quadraticCurveTo(0.12, 0.05, 0.3, 0)
    ctx.lineTo(-0.3, 0)
    ctx.quadraticCurveTo(-0.12, 0.05, -0.06, 0.22)
    ctx.fill()
    ctx.fillStyle = '#FFE9BC'
    ctx.beginPath()
    ctx.ellipse(0, -0.02, 0.11, 0.085, 0, 0, Math.PI * 2)
    ctx.fill()
  })
}
