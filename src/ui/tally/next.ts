/** What is to be next: a preset that was chosen for the coming cut, and what is on air now. */
import { useMemo, useSyncExternalStore } from 'react'
import { create } from 'zustand'
import { isGuarded } from '../../core/orders/guard'
import type { TallyState } from '../../core/tally/sources'
import type { CameraView, DeskView, PresetView } from '../../server/api'
import { switchTo } from '../api/client'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { did } from '../cues/taking'
import { live } from '../live/live'
import { recall } from '../presets/actions'

interface Next {
  camera: string
  preset: string | null
}
const useNextState = create((): { next: Next | null } => ({ next: null }))
export const useNext = (): Next | null => useNextState((state) => state.next)
export const setNext = (next: Next | null): void => useNextState.setState({ next })

const stateOf = (camera: string): TallyState => live().fact('tally', camera)?.state ?? 'off'

/** The tally of all cameras, by their ids. */
export function useTallies(cameras: readonly CameraView[]): ReadonlyMap<string, TallyState> {
  const ids = cameras.map(({ id }) => id).join()
  const store = useMemo(() => {
    const all = ids.split(',').filter(Boolean)
    return {
      subscribe(listener: () => void) {
        const stops = all.map((id) => live().facts.subscribe('tally', id, listener))
        return () => {
          for (const stop of stops) stop()
        }
      },
      read: () => all.map((id) => `${id} ${stateOf(id)}`).join(),
    }
  }, [ids])
  const text = useSyncExternalStore(store.subscribe, store.read)
  return useMemo(
    () =>
      new Map(
        text
          .split(',')
          .filter(Boolean)
          .map((one) => one.split(' ') as [string, TallyState]),
      ),
    [text],
  )
}

/** A preset of the same name on a camera that is free. */
function sameElsewhere(desk: DeskView, preset: PresetView): PresetView | null {
  const name = preset.name.trim().toLowerCase()
  return (
    desk.presets.find(
      (other) =>
        other.cameraId !== preset.cameraId &&
        other.name.trim().toLowerCase() === name &&
        !isGuarded(desk.event.guard, stateOf(other.cameraId)) &&
        desk.cameras.some(({ id, enabled }) => id === other.cameraId && enabled),
    ) ?? null
  )
}

/** What can be done from here: by the switcher as it is described, or by hand. */
export function switchable({ switcher, byHand }: DeskView['tally']) {
  const described = (line: string | null) => switcher.enabled && line !== null
  return {
    preview: described(switcher.preview) || byHand,
    cut: described(switcher.cut) || byHand,
    fade: described(switcher.fade),
  }
}

export const preview = (camera: CameraView) => told(() => switchTo('preview', camera.number))

function begin(desk: DeskView, preset: PresetView): void {
  setNext({ camera: preset.cameraId, preset: preset.id })
  const camera = desk.cameras.find(({ id }) => id === preset.cameraId)
  if (camera && switchable(desk.tally).preview) void preview(camera)
  void recall(preset.id)
}

/** Chooses a preset for the coming cut. On the camera that is on air it moves there, gently; another one is offered. */
export function chooseNext(desk: DeskView, preset: PresetView): void {
  if (stateOf(preset.cameraId) !== 'program' && stateOf(preset.cameraId) !== 'unknown') {
    begin(desk, preset)
    return
  }
  const other = sameElsewhere(desk, preset)
  const camera = desk.cameras.find(({ id }) => id === other?.cameraId)
  if (!other || !camera) return void recall(preset.id)
  note(`This camera is on air. ${camera.number} ${camera.name} is free and has “${other.name}” too.`, {
    actions: [
      { label: `Use ${camera.number}`, act: () => begin(desk, other) },
      { label: 'Move on air', act: () => void recall(preset.id) },
    ],
  })
}

/** Brings what is next on air. @param fade instead of a cut */
export async function takeNext(camera: CameraView, fade: boolean): Promise<void> {
  if (stateOf(camera.id) !== 'preview' && !(await preview(camera))) return
  if (!(await told(() => switchTo(fade ? 'fade' : 'cut', camera.number)))) return
  setNext(null)
  did({ t: 'switch', action: fade ? 'fade' : 'cut', camera: camera.id })
}
