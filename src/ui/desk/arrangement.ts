/**
 * How the Desk is arranged in a window: the same blocks, in the places where picture and thumbs want them.
 * A pure function of the window's size, so that every size can be checked without a browser.
 */

import {
  type Block,
  type Placement,
  type Shape,
  USUAL_PLACEMENT,
  visible,
} from '../../core/controls/placement'
import { COMPACT_STRIP, HEADER, PLACES_BELOW, PLACES_BESIDE, SLIM_HEADER, STRIP } from '../theme/rooms'

/** Of the stage around the picture: scales at the left and right, and below. */
export interface StageRoom {
  across: number
  below: number
}

/** @property width px; null: what the others leave */
export interface Column {
  blocks: Block[]
  width: number | null
}

export type Arrangement = {
  /** Of the picture alone, px. */
  pictureWidth: number
  /** Side of the drive pad, px. */
  pad: number
} & (
  | {
      /** A phone held upright: all below each other. `small`: without the speed row. */
      kind: 'upright'
      small: boolean
    }
  /** A tablet held upright: as on a phone, with the deck of a wide screen. */
  | { kind: 'tablet' }
  /**
   * Cameras, picture with deck, presets beside each other, or as the person has them. `roomy`: with the
   * keyboard's keys shown.
   */
  | { kind: 'columns'; columns: Column[]; roomy: boolean }
  | {
      /**
       * A low window: a thumb at each side of the picture. `beside`: with room for the presets too.
       * `speed`: with room for its track.
       */
      kind: 'low'
      beside: boolean
      speed: boolean
      side: number
    }
)

/** Presets as one row below the picture of a low window. */
export const TILE_ROW = 84
const SPEED_ROW = 52
/** The least of a board in a column with other blocks. */
const BOARD_LEAST = 190
/** Preview and Cut above the deck of a tablet held upright. */
export const SWITCH_ROW = 52
const KEY = 44
/** The row of tools with the gaps around it. */
const TOOLS = 84
const GAP = 8
const ZOOM_STRIP = 72
const SPEED_TRACK = 52
/** A column of keys beside the pad of a low window. */
export const KEY_COLUMN = 96
/** Preview and Cut beside that. */
export const SWITCH_COLUMN = 84
const DECK_PADDING = 16

const LOW_BELOW = 600
const STRIP_BELOW = 320
export const COLUMNS_FROM = 980
const TABLET_FROM = 600
const BESIDE_FROM = 1080
const ROOMY_FROM = 1240
const SPEED_FROM = 720
const LEAST_PICTURE = 180
/** Beside the pad of a phone's deck: zoom strip and keys. */
const BESIDE_PAD = 184

const clamp = (x: number, min: number, max: number) => Math.min(max, Math.max(min, x))
const byHeight = (height: number) => (height * 16) / 9
const byWidth = (width: number) => (width * 9) / 16
const picture = (width: number) => Math.max(LEAST_PICTURE, Math.floor(width))

const sizeOf = ({ size }: Placement, block: Block) => size[block] ?? 1
const has = (placement: Placement, block: Block) => !placement.hidden.includes(block)

/** @param switches with Preview and Cut */
export function shapeOf(width: number, height: number, switches: boolean): Shape {
  if (height < LOW_BELOW && width > height)
    return width >= BESIDE_FROM + (switches ? SWITCH_COLUMN + GAP : 0) ? 'slim' : 'across'
  if (width >= COLUMNS_FROM) return 'wide'
  if (width >= TABLET_FROM) return 'tablet'
  return width <= STRIP_BELOW ? 'strip' : 'phone'
}

function low(width: number, height: number, room: StageRoom, switches: boolean, own: Placement): Arrangement {
  const content = height - SLIM_HEADER
  const beside = shapeOf(width, height, switches) === 'slim'
  const board = beside && has(own, 'presets')
  const deck = has(own, 'deck')
  const speed = width >= SPEED_FROM
  const left = has(own, 'zoom') ? ZOOM_STRIP + (speed ? GAP + SPEED_TRACK : 0) : 0
  const keys = KEY_COLUMN + GAP + (switches ? SWITCH_COLUMN + GAP : 0)
  const places = beside ? 0 : PLACES_BESIDE
  const others = left + (beside ? keys : places) + 6 * GAP + room.across + LEAST_PICTURE
  const tallest = content - DECK_PADDING - (beside ? 0 : 3 * (KEY + GAP))
  const most = Math.min(tallest, width - others, beside && switches ? 200 : 240)
  const pad = clamp(most * Math.min(1, sizeOf(own, 'deck')), 120, 240)
  const right = deck ? (beside ? keys + pad : pad) : 0
  const fixed = left + right + places + 6 * GAP
  const least = board ? 324 : 0
  const row = beside || !has(own, 'presets') ? 0 : TILE_ROW
  const strip = has(own, 'cameras') ? COMPACT_STRIP : 0
  const high = byHeight(content - strip - row - room.below - GAP)
  const widest = Math.min(high, width - fixed - room.across - least)
  const pictureWidth = picture(widest * Math.min(1, sizeOf(own, 'picture')))
  const side = board ? (has(own, 'picture') ? width - fixed - room.across - pictureWidth : least) : 0
  return { kind: 'low', beside, speed, pad, pictureWidth, side }
}

const isRail = (blocks: readonly Block[]) => blocks.join() === 'cameras'

function columns(width: number, height: number, room: StageRoom, own: Placement): Arrangement {
  const rail = Math.round(clamp(width * 0.165, 158, 210) * sizeOf(own, 'cameras'))
  const side = Math.round(clamp(width * 0.278, 300, 356) * sizeOf(own, 'presets'))
  const stood = visible(own)
  /** The column that takes what the others leave. */
  const columnWith = (block: Block) => stood.findIndex((blocks) => blocks.includes(block))
  const main = [columnWith('picture'), columnWith('presets'), columnWith('deck')].find((i) => i >= 0) ?? 0
  const wish = stood.map((blocks, i) => (i === main ? 0 : isRail(blocks) ? Math.max(158, rail) : side))
  const mostBeside = width - room.across - LEAST_PICTURE - 12
  const asked = wish.reduce((sum, w) => sum + w, 0)
  const widths = wish.map((w) => Math.floor(w * Math.min(1, mostBeside / Math.max(1, asked))))
  const middle = stood[main] ?? []
  const inMiddle = (block: Block) => middle.includes(block)
  const taken = widths.reduce((sum, w) => sum + w, 0)
  const wide = width - taken - 12 - room.across
  // Below the header: the stage, the row of tools, the deck.
  const rest =
    height -
    HEADER -
    (inMiddle('tools') ? TOOLS : 24) -
    (inMiddle('deck') ? DECK_PADDING : 0) -
    (inMiddle('cameras') ? STRIP : 0) -
    (inMiddle('presets') ? BOARD_LEAST : 0) -
    room.below
  const least = inMiddle('deck') ? clamp(height - 480, 168, 216) : 0
  const widest = Math.min(wide, byHeight(rest - least))
  const pictureWidth = picture(widest * Math.min(1, sizeOf(own, 'picture')))
  const besideWidth = widths[stood.findIndex((blocks) => blocks.includes('deck'))] ?? 0
  const pad = inMiddle('deck')
    ? clamp((inMiddle('picture') ? rest - byWidth(pictureWidth) : 216) * sizeOf(own, 'deck'), least, 260)
    : clamp((besideWidth - BESIDE_PAD) * sizeOf(own, 'deck'), 120, Math.max(120, besideWidth - BESIDE_PAD))
  return {
    kind: 'columns',
    columns: stood.map((blocks, i) => ({ blocks, width: i === main ? null : (widths[i] ?? null) })),
    pad: Math.round(pad),
    pictureWidth,
    roomy: width >= ROOMY_FROM,
  }
}

/** Below each other: what is left for the picture when the presets have what they need at least. */
function upright(
  width: number,
  height: number,
  room: StageRoom,
  switches: boolean,
  own: Placement,
): Arrangement {
  const tablet = width >= TABLET_FROM
  const deck = has(own, 'deck')
  const small = !tablet && (width < 360 || height < 700)
  const strip = has(own, 'cameras') ? (small ? COMPACT_STRIP : STRIP) : 0
  const row = switches && tablet ? SWITCH_ROW : 0
  const below = deck ? (tablet ? 0 : SPEED_ROW) + DECK_PADDING + row : 0
  const rest = height - HEADER - strip - PLACES_BELOW - below
  const least = has(own, 'presets')
    ? Math.round((tablet ? 260 : 120) / Math.max(1, sizeOf(own, 'picture')))
    : 0
  // Without presets the thumb has what they leave.
  const wanted = (has(own, 'presets') ? (tablet ? 216 : 204) : 280) * sizeOf(own, 'deck')
  const stage = has(own, 'picture') ? room.below + byWidth(width - room.across) : 0
  const wished = Math.round(clamp(rest - least - stage, Math.min(132, wanted), wanted))
  // A strip beside another program: the keys between the thumbs keep their words.
  const pad = deck ? (width < STRIP_BELOW ? Math.min(wished, width - BESIDE_PAD) : wished) : 0
  const high = byHeight(rest - pad - least - room.below - 6)
  const widest = Math.min(width - room.across - 4, high)
  const pictureWidth = picture(widest * Math.min(1, sizeOf(own, 'picture')))
  return tablet ? { kind: 'tablet', pad, pictureWidth } : { kind: 'upright', small, pad, pictureWidth }
}

/**
 * @param switches with Preview and Cut
 * @param own how the person has it, made whole; the usual one without
 */
export function arrange(
  width: number,
  height: number,
  room: StageRoom,
  switches: boolean,
  own: Placement = USUAL_PLACEMENT[shapeOf(width, height, switches)],
): Arrangement {
  if (height < LOW_BELOW && width > height) return low(width, height, room, switches, own)
  return width >= COLUMNS_FROM
    ? columns(width, height, room, own)
    : upright(width, height, room, switches, own)
}
