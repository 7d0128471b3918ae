/** A person, drawn flat on an upright plane in metres: x to their left as seen from the front, y up. */
import type { SKRSContext2D } from '@napi-rs/canvas'
import type { Person } from './cast'
import type { Projector } from './projector'

/** Multiplies a #rrggbb colour's brightness. */
export function tone(colour: string, by: number): string {
  const n = Number.parseInt(colour.slice(1), 16)
  const part = (shift: number) => Math.max(0, Math.min(255, Math.round(((n >> shift) & 255) * by)))
  return `rgb(${part(16)},${part(8)},${part(0)})`
}

const ellipse = (ctx: SKRSContext2D, x: number, y: number, rx: number, ry: number, turn = 0) => {
  ctx.beginPath()
  ctx.ellipse(x, y, rx, ry, turn, 0, Math.PI * 2)
  ctx.fill()
}

function body(ctx: SKRSContext2D, p: Person): void {
  ctx.fillStyle = p.cloth
  ctx.beginPath()
  ctx.moveTo(-0.27, 0.42)
  ctx.bezierCurveTo(-0.3, 0.9, -0.27, 1.1, -0.12, 1.16)
  ctx.quadraticCurveTo(0, 1.2, 0.12, 1.16)
  ctx.bezierCurveTo(0.27, 1.1, 0.3, 0.9, 0.27, 0.42)
  ctx.closePath()
  ctx.fill()
  ctx.save()
  ctx.clip()
  ctx.fillStyle = tone(p.cloth, 0.78)
  if (p.pattern === 'stripe') for (let y = 0.5; y < 1.2; y += 0.11) ctx.fillRect(-0.32, y, 0.64, 0.045)
  // The side away from the lamps.
  ctx.globalAlpha = 0.55
  ctx.beginPath()
  ctx.moveTo(0.1, 1.2)
  ctx.quadraticCurveTo(0.12, 0.8, 0.16, 0.4)
  ctx.lineTo(0.4, 0.4)
  ctx.lineTo(0.4, 1.2)
  ctx.fill()
  ctx.restore()
}

function collar(ctx: SKRSContext2D, p: Person): void {
  if (p.pattern === 'collar') {
    ctx.fillStyle = '#E9E2D2'
    ctx.beginPath()
    ctx.moveTo(-0.09, 1.18)
    ctx.lineTo(0, 1.0)
    ctx.lineTo(0.09, 1.18)
    ctx.closePath()
    ctx.fill()
  } else if (p.pattern === 'scarf') {
    ctx.fillStyle = tone(p.cloth, 1.6)
    ellipse(ctx, 0, 1.17, 0.13, 0.055)
    ctx.fillRect(0.02, 0.86, 0.08, 0.3)
  }
}

function hairBehind(ctx: SKRSContext2D, p: Person): void {
  ctx.fillStyle = tone(p.hairColour, 0.8)
  if (p.hair === 'long') {
    ctx.beginPath()
    ctx.moveTo(-0.15, 1.42)
    ctx.bezierCurveTo(-0.19, 1.2, -0.18, 1.05, -0.14, 1.0)
    ctx.lineTo(0.14, 1.0)
    ctx.bezierCurveTo(0.18, 1.05, 0.19, 1.2, 0.15, 1.42)
    ctx.fill()
  } else if (p.hair === 'bun') ellipse(ctx, 0, 1.6, 0.07, 0.065)
  else if (p.hair === 'bob') ellipse(ctx, 0, 1.36, 0.165, 0.17)
  else if (p.hair === 'curly') {
    for (let i = 0; i < 9; i++) {
      const a = (i / 8) * Math.PI * 1.25 - Math.PI * 0.125
      ellipse(ctx, Math.cos(a) * 0.125, 1.42 + Math.sin(a) * 0.12, 0.062, 0.062)
    }
  }
}

function hairFront(ctx: SKRSContext2D, p: Person): void {
  ctx.fillStyle = p.hairColour
  if (p.hair === 'bald') return
  ctx.beginPath()
  ctx.ellipse(0, 1.39, 0.128, 0.155, 0, 0.12, Math.PI - 0.12)
  if (p.hair === 'short') ctx.quadraticCurveTo(-0.06, 1.47, 0.04, 1.485)
  else if (p.hair === 'curly') ctx.quadraticCurveTo(0, 1.5, 0.05, 1.47)
  else ctx.quadraticCurveTo(0.02, 1.44, 0.07, 1.5)
  ctx.closePath()
  ctx.fill()
  if (p.hair === 'cap') {
    ctx.fillStyle = tone(p.cloth, 0.7)
    ctx.beginPath()
    ctx.ellipse(0, 1.43, 0.142, 0.135, 0, 0, Math.PI)
    ctx.fill()
    ctx.fillRect(-0.17, 1.415, 0.3, 0.028)
  }
}

function face(ctx: SKRSContext2D, p: Person, t: number): void {
  const blink = (t * 0.37 + p.phase) % 1 < 0.03 ? 0.15 : 1
  const glance = Math.sin(t * 0.31 + p.phase * 3) > 0.75 ? 0.008 : 0
  ctx.fillStyle = tone(p.skin, 0.88)
  ellipse(ctx, 0.012, 1.345, 0.017, 0.024)
  for (const side of [-1, 1]) {
    const x = side * 0.05
    ctx.fillStyle = '#F3EFE6'
    ellipse(ctx, x, 1.39, 0.022, 0.0135 * blink)
    ctx.fillStyle = '#241A15'
    ellipse(ctx, x + glance, 1.39, 0.0105, 0.0115 * blink)
    ctx.fillStyle = p.hair === 'bald' ? tone(p.skin, 0.55) : tone(p.hairColour, 0.85)
    ctx.fillRect(x - 0.026, 1.418, 0.052, 0.009)
  }
  if (p.beard) {
    ctx.fillStyle = tone(p.hairColour, 0.9)
    ctx.beginPath()
    ctx.moveTo(-0.115, 1.35)
    ctx.bezierCurveTo(-0.11, 1.18, 0.11, 1.18, 0.115, 1.35)
    ctx.quadraticCurveTo(0, 1.3, -0.115, 1.35)
    ctx.fill()
  }
  const talks = p.standing || Math.sin(t * 0.23 + p.phase * 5) > 0.86
  const open = talks ? 0.006 + 0.012 * Math.abs(Math.sin(t * 7 + p.phase)) : 0.005
  ctx.fillStyle = tone(p.skin, 0.5)
  ellipse(ctx, 0, 1.292, 0.034, open)
  if (p.glasses) {
    ctx.strokeStyle = '#22262B'
    ctx.lineWidth = 0.008
    for (const side of [-1, 1]) {
      ctx.beginPath()
      ctx.ellipse(side * 0.052, 1.388, 0.036, 0.03, 0, 0, Math.PI * 2)
      ctx.stroke()
    }
    ctx.fillStyle = '#22262B'
    ctx.fillRect(-0.018, 1.388, 0.036, 0.008)
  }
}

function head(ctx: SKRSContext2D, p: Person, t: number, back: boolean): void {
  ctx.fillStyle = tone(p.skin, 0.75)
  ctx.fillRect(-0.05, 1.1, 0.1, 0.16)
  ctx.fillStyle = p.skin
  ellipse(ctx, -0.122, 1.37, 0.022, 0.034)
  ellipse(ctx, 0.122, 1.37, 0.022, 0.034)
  ellipse(ctx, 0, 1.37, 0.122, 0.152)
  if (back) {
    ctx.fillStyle = p.hair === 'bald' ? tone(p.skin, 0.9) : p.hairColour
    ellipse(ctx, 0, 1.39, 0.13, 0.15)
    hairBehind(ctx, p)
    return
  }
  ctx.save()
  ctx.beginPath()
  ctx.ellipse(0, 1.37, 0.122, 0.152, 0, 0, Math.PI * 2)
  ctx.clip()
  ctx.fillStyle = tone(p.skin, 0.86)
  ctx.fillRect(0.05, 1.2, 0.1, 0.35)
  ctx.restore()
  face(ctx, p, t)
  hairFront(ctx, p)
}

/** Legs and feet of one who stands. */
function legs(ctx: SKRSContext2D): void {
  ctx.fillStyle = '#23262B'
  ctx.fillRect(-0.19, 0, 0.16, 0.78)
  ctx.fillRect(0.03, 0, 0.16, 0.78)
}

/** Draws a person where they sit or stand, turned as the camera sees them. `t` in seconds. */
export function drawPerson(view: Projector, p: Person, t: number, arms?: (ctx: SKRSContext2D) => void): void {
  const sway = 0.014 * Math.sin(t * 0.5 + p.phase) + 0.008 * Math.sin(t * 1.3 + p.phase * 2)
  const lift = p.standing ? 0.34 : 0
  const bearing = view.bearingFrom(p.at)
  const back = Math.cos(bearing - p.facing) < -0.2
  const right = [Math.cos(bearing), 0, -Math.sin(bearing)] as const
  const s = p.scale
  view.plane([p.at[0], p.at[1] + 0.9, p.at[2]], right, [0, 1, 0], 1.3, (ctx) => {
    ctx.scale(s, s)
    ctx.translate(sway, -0.9 + lift)
    if (p.standing) {
      ctx.save()
      ctx.translate(0, -lift)
      legs(ctx)
      ctx.restore()
    }
    if (!back) hairBehind(ctx, p)
    body(ctx, p)
    if (!back) collar(ctx, p)
    const nod = 0.05 * Math.sin(t * 0.7 + p.phase * 1.7)
    ctx.save()
    ctx.translate(sway * 0.8, 0.006 * Math.sin(t * 0.9 + p.phase))
    ctx.translate(0, 1.2)
    ctx.rotate(nod)
    ctx.translate(0, -1.2)
    head(ctx, p, t, back)
    ctx.restore()
    arms?.(ctx)
  })
}
