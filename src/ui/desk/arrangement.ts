/**
 * How the Desk is arranged in a window: the same blocks, in the places where picture and thumbs want them.
 * A pure function of the window's size, so that every size can be checked without a browser.
 */

import { COMPACT_STRIP, HEADER, PLACES_BELOW, PLACES_BESIDE, SLIM_HEADER, STRIP } from '../theme/rooms'

/** Of the stage around the picture: scales at the left and right, and below. */
export interface StageRoom {
  across: number
  below: number
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
  /** Cameras, picture with deck, presets beside each other. `roomy`: with the keyboard's keys shown. */
  | { kind: 'columns'; rail: number; side: number; roomy: boolean }
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

const clamp = (x: number, min: number, max: number) => Math.min(max, Math.max(min, x))
const byHeight = (height: number) => (height * 16) / 9
const picture = (width: number) => Math.max(LEAST_PICTURE, Math.floor(width))

function low(width: number, height: number, room: StageRoom, switches: boolean): Arrangement {
  const content = height - SLIM_HEADER
  const beside = width >= BESIDE_FROM + (switches ? SWITCH_COLUMN + GAP : 0)
  const speed = width >= SPEED_FROM
  const left = ZOOM_STRIP + (speed ? GAP + SPEED_TRACK : 0)
  const keys = KEY_COLUMN + GAP + (switches ? SWITCH_COLUMN + GAP : 0)
  const others = left + (beside ? keys : PLACES_BESIDE) + 6 * GAP + room.across + LEAST_PICTURE
  const tallest = content - DECK_PADDING - (beside ? 0 : 3 * (KEY + GAP))
  const pad = clamp(Math.min(tallest, width - others), 120, beside && switches ? 200 : 240)
  const right = beside ? keys + pad : pad
  const fixed = left + right + (beside ? 0 : PLACES_BESIDE) + 6 * GAP
  const least = beside ? 324 : 0
  const high = byHeight(content - COMPACT_STRIP - (beside ? 0 : TILE_ROW) - room.below - GAP)
  const pictureWidth = picture(Math.min(high, width - fixed - room.across - least))
  const side = beside ? width - fixed - room.across - pictureWidth : 0
  return { kind: 'low', beside, speed, pad, pictureWidth, side }
}

function columns(width: number, height: number, room: StageRoom): Arrangement {
  const rail = Math.round(clamp(width * 0.165, 158, 210))
  const side = Math.round(clamp(width * 0.278, 300, 356))
  const least = clamp(height - 480, 168, 216)
  const wide = width - rail - side - 12 - room.across
  // Below the header: the stage, the row of tools, the deck.
  const rest = height - HEADER - TOOLS - DECK_PADDING - room.below
  const pictureWidth = picture(Math.min(wide, byHeight(rest - least)))
  const pad = Math.round(clamp(rest - byWidth(pictureWidth), least, 260))
  return { kind: 'columns', rail, side, pad, pictureWidth, roomy: width >= ROOMY_FROM }
}

/** Below each other: what is left for the picture when the presets have what they need at least. */
function upright(width: number, height: number, room: StageRoom, switches: boolean): Arrangement {
  const tablet = width >= TABLET_FROM
  const small = !tablet && (width < 360 || height < 700)
  const strip = small ? COMPACT_STRIP : STRIP
  const row = switches && tablet ? SWITCH_ROW : 0
  const rest = height - HEADER - strip - (tablet ? 0 : SPEED_ROW) - PLACES_BELOW - DECK_PADDING - row
  const least = tablet ? 260 : 120
  const wanted = tablet ? 216 : 204
  const wished = Math.round(clamp(rest - least - room.below - byWidth(width - room.across), 132, wanted))
  // A strip beside another program: the keys between the thumbs keep their words.
  const pad = width < STRIP_BELOW ? Math.min(wished, width - 184) : wished
  const high = byHeight(rest - pad - least - room.below - 6)
  const pictureWidth = picture(Math.min(width - room.across - 4, high))
  return tablet ? { kind: 'tablet', pad, pictureWidth } : { kind: 'upright', small, pad, pictureWidth }
}

const byWidth = (width: number) => (width * 9) / 16

/** @param switches with Preview and Cut */
export function arrange(width: number, height: number, room: StageRoom, switches: boolean): Arrangement {
  if (height < LOW_BELOW && width > height) return low(width, height, room, switches)
  return width >= COLUMNS_FROM ? columns(width, height, room) : upright(width, height, room, switches)
}
