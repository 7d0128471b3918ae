/** What is to be expected when a cue begins: where those before it in the order leave the cameras, and on air. */
import { listed } from './order'
import type { CueState } from './predict'
import type { CueView, Step } from './show'
import { type CueWorld, placeOf } from './world'

const startOf = ({ start }: Step) => (start.kind === 'at' ? start.seconds : Number.POSITIVE_INFINITY)

/** As predictCue would have it, without the planner: for what is drawn while it is edited. */
export function stateBefore(
  world: CueWorld,
  cues: readonly CueView[],
  cue: CueView,
  now: CueState,
): CueState {
  const places = new Map(now.places)
  let { program, preview } = now
  const order = listed(cues)
  const at = cue.listed ? order.findIndex(({ id }) => id === cue.id) : 0
  for (const before of order.slice(0, Math.max(0, at)))
    for (const { does } of [...before.steps].sort((a, b) => startOf(a) - startOf(b))) {
      if (does.t === 'recall') {
        const preset = world.preset(does.preset)
        const place = placeOf(preset?.pose ?? null)
        if (preset && place) places.set(preset.cameraId, place)
      } else if (does.t === 'switch') {
        const next = does.camera ?? preview
        if (does.action === 'preview') preview = does.camera
        else if (next !== program) [program, preview] = [next, program]
      }
    }
  return { places, program, preview }
}
