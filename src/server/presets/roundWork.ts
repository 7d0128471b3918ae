/** What the rounds share: what they work with, and how they wait. */

import type { CameraOrder } from '../../core/orders/orders'
import type { Round } from '../../core/presets/round'
import type { CameraResult } from '../cameras/camera'
import type { Clock } from '../cameras/clock'
import type { Member } from '../fleet'
import type { CameraRow } from '../store/cameras'
import type { RoundStore } from './roundStore'

/** What a round works with. */
export interface RoundWork {
  store: RoundStore
  member: Pick<Member, 'camera' | 'pictures'> & { row: Pick<CameraRow, 'id' | 'mount' | 'limits'> }
  clock: Clock
  /** An order to the camera, given by the round. */
  perform(order: CameraOrder): Promise<CameraResult>
  /** Is it still to go on? */
  readonly goesOn: boolean
  /** It cannot go on, for this reason. */
  end(reason: string): void
  tell(change: Partial<Round>): void
  trouble(text: string): void
}

export const SILENT = 'The camera does not answer any more.'

/** Until the picture on its way shows what the camera sees now. */
export const PICTURE_SETTLES_MS = 250

export const wait = (clock: Clock, ms: number) =>
  new Promise<void>((resolve) => {
    clock.after(ms, resolve)
  })

const LOOK_AGAIN_MS = 80
/** Waits until the camera is where it was sent. @param id of the preset; '' for a pose @returns why it did not arrive; null when it has */
export async function arrival(work: RoundWork, id: string): Promise<string | null> {
  for (;;) {
    const { travel } = work.member.camera
    if (!work.goesOn || travel?.presetId !== id || travel.state === 'interrupted') return 'it was interrupted'
    if (travel.state === 'arrived') return null
    if (travel.state === 'failed') return travel.reason ?? 'it did not arrive'
    await wait(work.clock, LOOK_AGAIN_MS)
  }
}
