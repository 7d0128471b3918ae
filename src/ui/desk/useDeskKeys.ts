/** What the keys and the buttons of a stick do on the Desk, and the number that is being typed. */

import { useEffect, useState } from 'react'
import { can, isBlind } from '../../core/facts/capabilities'
import type { DeskView, PresetView } from '../../server/api'
import { fault } from '../basics/notes'
import { runKeys } from '../cues/runActions'
import { useShow } from '../cues/useShow'
import { devices } from '../input/devices'
import { sticks } from '../input/sticks'
import { type PressActions, useKeys } from '../input/useKeys'
import { type NewStore, overwrite } from '../presets/actions'
import type { DeskState } from './deskState'
import type { Typed } from './Stage'
import type { DeskCamera } from './useCamera'
import { useCameraActions } from './useCameraActions'
import { useDigits } from './useDigits'
import { useStoreNumber } from './useStoreNumber'

const NO_PRESET = (typed: string) => `There is no preset ${typed} on this camera.`
const NO_CAMERA = (typed: string) => `There is no camera ${typed}.`
/** Those that have an action of their own. */
const RECALLS = [1, 2, 3, 4, 5, 6, 7, 8] as const

interface DeskKeys {
  desk: DeskView
  camera: DeskCamera
  /** Of the camera. */
  presets: readonly PresetView[]
  store(): void
  storeAs(wish: NewStore): void
  onRecall(id: string): void
  onCamera(id: string): void
}

/** @returns the number that is being typed, and what it is for */
export function useDeskKeys(state: DeskState, keys: DeskKeys): Typed | null {
  const { desk, camera, presets, store, storeAs, onRecall, onCamera } = keys
  const { tool, setTool, boardKind, setBoardKind, setSheet, all, setAll } = state
  const [cameraNumber, setCameraNumber] = useState(false)
  const blind = camera.able !== null && isBlind(camera.able)
  const presetDigits = useDigits(presets, onRecall, NO_PRESET)
  const choose = (id: string) => {
    setCameraNumber(false)
    onCamera(id)
  }
  const cameraDigits = useDigits(desk.cameras, choose, NO_CAMERA)
  const underNumber = useStoreNumber((number) => {
    const there = presets.find((p) => p.number === number)
    if (there) void overwrite(there)
    else storeAs({ number, memory: blind ? number : null })
  })
  const recallNumber = (number: number) => () => {
    const there = presets.find((p) => p.number === number)
    if (there) onRecall(there.id)
    else fault(NO_PRESET(String(number)))
  }
  const neighbour = (step: 1 | -1) => {
    const at = desk.cameras.findIndex((c) => c.id === camera.view.id)
    const next = desk.cameras[(at + step + desk.cameras.length) % desk.cameras.length]
    if (next) choose(next.id)
  }
  const chooseTool = (next: typeof tool) => setTool(next === tool ? 'store' : next)
  const cameraActions = useCameraActions(camera, state.toolPace)
  const { held } = useShow()
  const press: PressActions = {
    store,
    storeNumber: underNumber.start,
    paceOnce: () => setSheet('pace'),
    ...Object.fromEntries(RECALLS.map((number) => [`recall${number}`, recallNumber(number)])),
    ...cameraActions,
    ...runKeys(desk, held),
    cameraNumber: () => setCameraNumber(!cameraNumber),
    cameraBefore: () => neighbour(-1),
    cameraAfter: () => neighbour(1),
    allPictures: () => setAll(!all),
    aim: () => chooseTool('aim'),
    frame: () => chooseTool('frame'),
    follow: () => chooseTool('follow'),
    focusPoint: () => can(camera.able, 'focusAt') && chooseTool('focusPoint'),
    findPreset: () => setBoardKind('find'),
    pinned: () => setBoardKind(boardKind === 'pinned' ? 'camera' : 'pinned'),
    keySheet: () => setSheet('keys'),
    stop: () => {
      setCameraNumber(false)
      underNumber.cancel()
      setTool('store')
      setBoardKind('camera')
      sticks.letGo()
    },
  }
  const digits = underNumber.typed !== null ? underNumber : cameraNumber ? cameraDigits : presetDigits
  useKeys({ press, digit: digits.digit, enter: digits.enter })
  devices.press = press
  useEffect(
    () => () => {
      devices.press = {}
    },
    [],
  )
  if (underNumber.typed !== null)
    return { prefix: 'Store as ', digits: underNumber.typed, how: 'Enter stores' }
  if (cameraNumber) return { prefix: 'Camera ', digits: cameraDigits.typed, how: 'type its number' }
  return presetDigits.typed ? { prefix: '', digits: presetDigits.typed, how: 'Enter recalls' } : null
}
