/** A small barn of cameras and cues for tests: three heads of a built-in profile, presets at known places. */

import * as v from 'valibot'
import { headProfile } from '../../heads/registry'
import { createLens } from '../../optics/lens'
import type { Pace } from '../../presets/pace'
import { Cue, type CueView, type Step, type StepDoes } from '../show'
import type { CueWorld } from '../world'

export const uuid = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
export const CAMERAS = [1, 2, 3].map(uuid)
const profile = headProfile('marsh-20x')
const lens = createLens(profile.lens)

/** Preset n of camera c stands at 10 n degrees. */
export const presetId = (camera: number, n: number) => uuid(100 * camera + n)

export const step = (id: string, seconds: number, does: StepDoes): Step => ({
  id,
  start: { kind: 'at', seconds },
  does,
})
export const after = (id: string, of: string, does: StepDoes, seconds = 0): Step => ({
  id,
  start: { kind: 'after', step: of, seconds },
  does,
})
export const recall = (camera: number, n: number, pace: Pace | null = null, together = false): StepDoes => ({
  t: 'recall',
  preset: presetId(camera, n),
  pace,
  together,
})
export const timed = (seconds: number): Pace => ({ kind: 'timed', seconds })

export const cue = (n: number, steps: Step[], change: Partial<Cue> = {}): CueView => ({
  ...v.parse(Cue, { name: `Cue ${n}`, steps, ...change }),
  id: uuid(1000 + n),
  order: n,
  version: 1,
})

export function world(cues: readonly CueView[] = [], parts: Partial<CueWorld> = {}): CueWorld {
  return {
    camera(id) {
      const i = CAMERAS.indexOf(id)
      return i < 0 ? null : { id, number: i + 1, name: `Head ${i + 1}`, profile, lens, pace: null }
    },
    preset(id) {
      const n = Number(id.slice(-12))
      const [camera, number] = [Math.floor(n / 100), n % 100]
      if (camera < 1 || camera > 3 || number > 20) return null
      return {
        ...{ id, cameraId: uuid(camera), number, name: `P${number}`, pace: null },
        pose: {
          panDeg: number * 10 - 50,
          tiltDeg: 0,
          zoom: 4000,
          focusAuto: true,
          focus: null,
          encoder: null,
        },
      }
    },
    cue: (id) => cues.find((one) => one.id === id) ?? null,
    tour: () => null,
    move: () => null,
    look: () => null,
    device: (id) =>
      id === uuid(9)
        ? { id, name: 'House lights', messages: [{ id: 'bright', name: 'Stage bright' }] }
        : null,
    ...parts,
  }
}

export const at = (camera: number, panDeg: number) =>
  [uuid(camera), { panDeg, tiltDeg: 0, zoom: 4000 }] as const
