/** The folk trio and what they play, in the plane of each player. */
import type { SKRSContext2D } from '@napi-rs/canvas'
import { TRIO } from './cast'
import { drawPerson } from './figure'
import type { Projector } from './projector'

type Draw = (ctx: SKRSContext2D, t: number) => void

const oval = (
  ctx: SKRSContext2D,
  x: number,
  y: number,
  rx: number,
  ry: number,
  turn: number,
  colour: string,
) => {
  ctx.fillStyle = colour
  ctx.beginPath()
  ctx.ellipse(x, y, rx, ry, turn, 0, Math.PI * 2)
  ctx.fill()
}

const line = (
  ctx: SKRSContext2D,
  x1: number,
  y1: number,
  x2: number,
  y2: number,
  width: number,
  colour: string,
) => {
  ctx.strokeStyle = colour
  ctx.lineWidth = width
  ctx.lineCap = 'round'
  ctx.beginPath()
  ctx.moveTo(x1, y1)
  ctx.lineTo(x2, y2)
  ctx.stroke()
}

const fiddle: Draw = (ctx, t) => {
  line(ctx, 0.02, 1.13, 0.34, 1.2, 0.03, '#2A1A12')
  oval(ctx, 0.1, 1.12, 0.1, 0.06, 0.2, '#A5562A')
  oval(ctx, 0.2, 1.145, 0.07, 0.05, 0.2, '#A5562A')
  const bow = 0.13 * Math.sin(t * 5.2)
  line(ctx, -0.1 + bow, 0.98, 0.3 + bow, 1.3, 0.012, '#E8DCC2')
}

const guitar: Draw = (ctx, t) => {
  line(ctx, 0.08, 0.82, 0.52, 1.02, 0.045, '#3A2417')
  oval(ctx, -0.12, 0.72, 0.19, 0.17, 0.4, '#B97F3E')
  oval(ctx, 0.07, 0.8, 0.14, 0.12, 0.4, '#B97F3E')
  oval(ctx, -0.02, 0.76, 0.055, 0.055, 0, '#3A2417')
  oval(ctx, -0.08 + 0.02 * Math.sin(t * 9), 0.76 + 0.05 * Math.sin(t * 9), 0.045, 0.04, 0, '#D9A47C')
}

const drum: Draw = (ctx, t) => {
  oval(ctx, 0.05, 0.72, 0.24, 0.24, 0, '#8A5A33')
  oval(ctx, 0.05, 0.72, 0.21, 0.21, 0, '#E6D9BC')
  line(ctx, -0.22, 0.95, -0.02 + 0.04 * Math.sin(t * 11), 0.78 + 0.05 * Math.sin(t * 11), 0.025, '#5A3A22')
}

const PLAYS: Record<(typeof TRIO)[number]['plays'], Draw> = { fiddle, guitar, drum }

export function drawPlayer(view: Projector, index: number, t: number): void {
  const { person, plays } = TRIO[index]!
  const [x, y, z] = person.at
  view.fill(
    [
      [x - 0.25, y + 0.42, z - 0.2],
      [x + 0.25, y + 0.42, z - 0.2],
      [x + 0.25, y + 0.42, z + 0.2],
      [x - 0.25, y + 0.42, z + 0.2],
    ],
    '#4A3323',
  )
  for (const side of [-0.2, 0.2]) view.beam([x + side, y, z], [x + side, y + 0.42, z], 0.05, '#3A281C')
  drawPerson(view, person, t, (ctx) => PLAYS[plays](ctx, t + person.phase))
}
