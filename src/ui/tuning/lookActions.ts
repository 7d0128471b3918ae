/** Keeps and recalls looks; each tells its outcome, and how to undo it. */
import { type Look, settingsNow } from '../../core/picture/looks'
import type { SettingGroup } from '../../core/picture/settings'
import type { CameraView } from '../../server/api'
import { AsksFirst, postLook, undoLook } from '../api/client'
import { fault, note } from '../basics/notes'
import { told } from '../basics/told'
import { live } from '../live/live'
import { ask } from '../tally/asked'

const PICTURE = { width: 96, height: 54, quality: 0.7 }

/** What a canvas shows, as small as a list needs; null if it has no picture. */
export async function smallPicture(canvas: HTMLCanvasElement | null): Promise<string | null> {
  if (!canvas?.width) return null
  try {
    const bitmap = await createImageBitmap(canvas)
    const small = document.createElement('canvas')
    small.width = PICTURE.width
    small.height = PICTURE.height
    small.getContext('2d')?.drawImage(bitmap, 0, 0, PICTURE.width, PICTURE.height)
    bitmap.close()
    return small.toDataURL('image/jpeg', PICTURE.quality)
  } catch {
    return null
  }
}

/** What these cameras are set to now; null where none of them tells. */
export function lookNow(cameras: readonly CameraView[]): Look['cameras'] | null {
  const kept = cameras.flatMap(({ id }) => {
    const settings = settingsNow(live().fact('able', id)?.settings ?? [], live().fact('settings', id) ?? {})
    return settings.length > 0 ? [{ camera: id, settings }] : []
  })
  return kept.length > 0 ? kept : null
}

export interface LookWish {
  cameras?: string[] | null
  groups?: SettingGroup[] | null
  seconds?: number | null
}

export async function recallLook(id: string, wish: LookWish = {}, confirmed = false): Promise<boolean> {
  try {
    const { undo, problems } = await postLook(id, { ...wish, confirmed })
    note('The look is recalled.', {
      actions: [
        {
          label: 'Undo',
          act: () => void told(() => undoLook(undo)),
        },
      ],
    })
    if (problems.length > 0) fault(problems.join(' '))
    return true
  } catch (error) {
    const { message } = error as Error
    if (error instanceof AsksFirst) ask({ text: message, act: () => void recallLook(id, wish, true) })
    else fault(message)
    return false
  }
}
