/** What the page and its worker for pictures say to each other. */
import type { Sighting } from './easels'

export type ToPictures =
  | { t: 'canvas'; easel: number; canvas: OffscreenCanvas }
  | { t: 'noCanvas'; easel: number }
  | { t: 'watch'; easel: number; camera: string; perSec: number }
  | { t: 'unwatch'; easel: number }
  | { t: 'copy'; request: number; camera: string; fromMs: number }
  | { t: 'noCopy'; request: number }
  | { t: 'away'; is: boolean }

export type FromPictures =
  | ({ t: 'seen' } & Sighting)
  | { t: 'trouble'; camera: string; text: string | null }
  | { t: 'copy'; request: number; bitmap: ImageBitmap }
