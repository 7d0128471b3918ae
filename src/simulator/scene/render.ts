/** One frame of the barn from one place, and how far away what it looks at is. */
import { type Canvas, createCanvas, GlobalFonts, type SKRSContext2D } from '@napi-rs/canvas'
import { toRoom, type Vec3 } from '../../core/optics/sphere'
import { seeded } from '../../core/seeded'
import type { Tint } from '../body/eye'
import type { SceneLight } from '../body/light'
import { BARN, barnParts, drawBarn } from './barn'
import { benchPeople, HOST, TEAMS, TRIO, tablePeople } from './cast'
import { drawPerson } from './figure'
import {
  BENCHES,
  drawBench,
  drawBuzzers,
  drawLamp,
  drawLectern,
  drawScoreboard,
  drawTable,
  FACE,
  LAMPS,
} from './furniture'
import { type House, kelvinAt, lightAt } from './house'
import { drawMenu, type MenuDrawn } from './menu'
import { Projector } from './projector'
import { drawPlayer } from './trio'

export interface Shot {
  eye: Vec3
  /** Pan 0 of the head points this way in the barn, degrees about y. */
  yawDeg: number
  panDeg: number
  tiltDeg: number
  /** Of a camera that does not stand upright, clockwise; 0 if omitted. */
  rollDeg?: number
  hfovDeg: number
  /** Diameter of the blur of what the camera looks at, pixels of a 640 wide picture. */
  blurPx: number
  /** Seconds, for all that moves. */
  atS: number
  power: boolean
  /** Noise of the sensor, 0..1. */
  grain?: number
  /** Softness by a setting, as `blurPx`. */
  soft?: number
  /** Exposure, white balance and the other settings; as the barn is drawn if omitted. */
  tint?: Tint
  /** Its own menu, over the picture. */
  menu?: MenuDrawn
  /** Lights and scoreboard; as they are at the start if omitted. */
  house?: House
}

interface Part {
  at: Vec3
  draw: (view: Projector, t: number, house: House | undefined) => void
}

const PEOPLE = [...tablePeople(), ...benchPeople(), HOST]

const PARTS: readonly Part[] = [
  ...barnParts(),
  ...PEOPLE.map((p): Part => ({ at: p.at, draw: (view, t) => drawPerson(view, p, t) })),
  ...TEAMS.map(
    (team, i): Part => ({
      at: [team.at[0], team.at[1], team.at[2] - 0.35],
      draw: (view) => drawTable(view, team, i),
    }),
  ),
  ...TRIO.map((player, i): Part => ({ at: player.person.at, draw: (view, t) => drawPlayer(view, i, t) })),
  ...Array.from(
    { length: BENCHES },
    (_, row): Part => ({ at: [0, 0, 3.9 - row * 1.25], draw: (view) => drawBench(view, row) }),
  ),
  { at: [0, 0.7, 10.2], draw: drawBuzzers },
  { at: [-6.2, 1.5, 17.3], draw: drawLectern },
  { at: [0, 3.5, 21.6], draw: (view, t, house) => drawScoreboard(view, t, house) },
  ...LAMPS.map((at): Part => ({ at, draw: (view) => drawLamp(view, at) })),
]

/** Fonts must be registered once in each thread that renders. */
export function registerFonts(files: readonly string[]): void {
  for (const file of files) GlobalFonts.registerFromPath(file, FACE)
}

/** Wide things (benches, beams) are sorted by their depth along the barn, the rest by distance. */
function order(part: Part, eye: Vec3): number {
  const wide = part.at[0] === 0 || part.at[2] < 5
  return wide ? Math.abs(part.at[2] - eye[2]) : Math.hypot(part.at[0] - eye[0], part.at[2] - eye[2])
}

function light(ctx: SKRSContext2D, width: number, height: number): void {
  const vignette = ctx.createRadialGradient(
    width / 2,
    height / 2,
    height * 0.35,
    width / 2,
    height / 2,
    width * 0.68,
  )
  vignette.addColorStop(0, 'rgba(8,6,4,0)')
  vignette.addColorStop(1, 'rgba(8,6,4,0.42)')
  ctx.fillStyle = vignette
  ctx.fillRect(0, 0, width, height)
}

let grainTile: Canvas | null = null

/** The noise of a small sensor in the dusk: one tile of it, laid at another place for each picture. */
function grain(ctx: SKRSContext2D, width: number, height: number, strength: number, atS: number): void {
  if (!grainTile) {
    grainTile = createCanvas(256, 256)
    const tile = grainTile.getContext('2d')
    const data = tile.createImageData(256, 256)
    const random = seeded(5)
    for (let i = 0; i < data.data.length; i += 4) {
      const light = random() < 0.5 ? 0 : 255
      data.data.set([light, light, light, random() * 90], i)
    }
    tile.putImageData(data, 0, 0)
  }
  const shift = (n: number) => -Math.floor((((Math.sin(atS * n) + 1) / 2) * 251) % 256)
  ctx.globalAlpha = strength
  for (let x = shift(71); x < width; x += 256) {
    for (let y = shift(113); y < height; y += 256) ctx.drawImage(grainTile, x, y)
  }
  ctx.globalAlpha = 1
}

/** The transfer of the picture, as all that is measured in it takes it. */
const GAMMA = 2.2

/** What the house lights give to the place where the camera looks. */
export function lightWhere(
  house: House,
  shot: Pick<Shot, 'eye' | 'yawDeg' | 'panDeg' | 'tiltDeg'>,
): SceneLight {
  const { eye, yawDeg, panDeg, tiltDeg } = shot
  const z =
    eye[2] + toRoom([0, 0, 1], panDeg + yawDeg, tiltDeg)[2] * distanceAlong(eye, yawDeg, panDeg, tiltDeg)
  return { stops: GAMMA * Math.log2(lightAt(house, z)), kelvin: kelvinAt(house, z) }
}

/**
 * Exposure and white balance, on what is drawn. A factor in linear light is another factor of the picture's own
 * values, and what two blends do to each channel: one darkens, the other brightens until it clips.
 */
function expose(
  ctx: SKRSContext2D,
  width: number,
  height: number,
  { stops, red, blue }: Pick<Tint, 'stops' | 'red' | 'blue'>,
): void {
  if (stops === 0 && red === 1 && blue === 1) return
  // A colour darkens what it lacks, so that at the usual exposure one blend is enough.
  const brightest = Math.max(red, 1, blue)
  const factors = [red, 1, blue].map((part) => ((Math.max(0, part) / brightest) * 2 ** stops) ** (1 / GAMMA))
  const fill = (blend: 'multiply' | 'color-dodge', parts: number[]) => {
    if (parts.every((part) => part === (blend === 'multiply' ? 255 : 0))) return
    ctx.globalCompositeOperation = blend
    ctx.fillStyle = `rgb(${parts.join(',')})`
    ctx.fillRect(0, 0, width, height)
  }
  fill(
    'multiply',
    factors.map((k) => Math.round(255 * Math.min(1, k))),
  )
  fill(
    'color-dodge',
    factors.map((k) => Math.round(255 * (1 - 1 / Math.max(1, k)))),
  )
  ctx.globalCompositeOperation = 'source-over'
}

/** What is left of the picture's settings: filters over the whole of it, and which way round it is. */
function adjust(canvas: Canvas, tint: Tint): Canvas {
  const { saturation, contrast, lift, hueDeg, mirror, flip, gamma } = tint
  const filters = [
    saturation !== 1 && `saturate(${saturation.toFixed(2)})`,
    contrast !== 1 && `contrast(${contrast.toFixed(2)})`,
    hueDeg !== 0 && `hue-rotate(${hueDeg.toFixed(1)}deg)`,
  ].filter(Boolean)
  if (filters.length === 0 && lift === 0 && gamma === 1 && !mirror && !flip) return canvas
  const { width, height } = canvas
  const out = createCanvas(width, height)
  const ctx = out.getContext('2d')
  ctx.translate(mirror ? width : 0, flip ? height : 0)
  ctx.scale(mirror ? -1 : 1, flip ? -1 : 1)
  if (filters.length > 0) ctx.filter = filters.join(' ')
  ctx.drawImage(canvas, 0, 0)
  if (lift === 0 && gamma === 1) return out
  const data = ctx.getImageData(0, 0, width, height)
  const curve = Uint8ClampedArray.from({ length: 256 }, (_, i) => 255 * ((i / 255) ** (1 / gamma) + lift))
  for (let i = 0; i < data.data.length; i++) if (i % 4 !== 3) data.data[i] = curve[data.data[i]!]!
  ctx.putImageData(data, 0, 0)
  return out
}

function drawShot(shot: Shot, width: number, height: number): Canvas {
  const canvas = createCanvas(width, height)
  const ctx = canvas.getContext('2d')
  ctx.fillStyle = '#0A0705'
  ctx.fillRect(0, 0, width, height)
  if (!shot.power) return canvas
  const blur = Math.min(24, (Math.hypot(shot.blurPx, shot.soft ?? 0) * width) / 640)
  const view = new Projector(
    ctx,
    width,
    height,
    shot.eye,
    shot.panDeg + shot.yawDeg,
    shot.tiltDeg,
    shot.hfovDeg,
    shot.rollDeg,
  )
  drawBarn(view)
  const near = PARTS.map((part) => ({ part, depth: order(part, shot.eye) })).sort((a, b) => b.depth - a.depth)
  for (const { part } of near) part.draw(view, shot.atS, shot.house)
  light(ctx, width, height)
  const tint = shot.tint ?? (shot.house && { stops: lightWhere(shot.house, shot).stops, red: 1, blue: 1 })
  if (tint) expose(ctx, width, height, tint)
  if (shot.grain) grain(ctx, width, height, shot.grain, shot.atS)
  const seen = shot.tint ? adjust(canvas, shot.tint) : canvas
  if (shot.menu) drawMenu(seen, shot.menu)
  if (blur < 0.7 || shot.menu) return seen
  const soft = createCanvas(width, height)
  const softCtx = soft.getContext('2d')
  softCtx.filter = `blur(${(blur / 2.6).toFixed(2)}px)`
  softCtx.drawImage(seen, 0, 0)
  return soft
}

/**
 * Draws shots side by side, as a multiviewer shows them, and returns one JPEG. @param width of each
 * @param mix instead, the second over the first, 0..1, as a fade shows them
 */
export function renderShots(
  shots: readonly Shot[],
  width: number,
  height: number,
  quality: number,
  mix: number | null = null,
): Buffer {
  if (mix !== null && shots.length === 2) {
    const mixed = drawShot(shots[0]!, width, height)
    const over = mixed.getContext('2d')
    over.globalAlpha = mix
    over.drawImage(drawShot(shots[1]!, width, height), 0, 0)
    return mixed.toBuffer('image/jpeg', quality)
  }
  if (shots.length === 1) return drawShot(shots[0]!, width, height).toBuffer('image/jpeg', quality)
  const all = createCanvas(width * shots.length, height)
  const ctx = all.getContext('2d')
  for (const [i, shot] of shots.entries()) ctx.drawImage(drawShot(shot, width, height), i * width, 0)
  return all.toBuffer('image/jpeg', quality)
}

/**
 * Metres from the eye to what is seen in a direction: the nearest person or table close to the axis,
 * else the walls and the floor.
 */
export function distanceAlong(eye: Vec3, yawDeg: number, panDeg: number, tiltDeg: number): number {
  const [dx, dy, dz] = toRoom([0, 0, 1], panDeg + yawDeg, tiltDeg)
  const reach = (from: number, d: number, low: number, high: number) =>
    d > 1e-6 ? (high - from) / d : d < -1e-6 ? (low - from) / d : Number.POSITIVE_INFINITY
  let nearest = Math.min(
    reach(eye[0], dx, BARN.left, BARN.right),
    reach(eye[1], dy, 0, 5.6),
    reach(eye[2], dz, BARN.front, BARN.back),
  )
  for (const p of [...PEOPLE, ...TRIO.map((player) => player.person)]) {
    const [ox, oy, oz] = [p.at[0] - eye[0], p.at[1] + 1.1 - eye[1], p.at[2] - eye[2]]
    const along = ox * dx + oy * dy + oz * dz
    if (along < 0.3 || along > nearest) continue
    const off = Math.hypot(ox - dx * along, oy - dy * along, oz - dz * along)
    if (off < 0.6) nearest = along
  }
  return Math.max(1, nearest)
}
