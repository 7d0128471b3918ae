/** Does one step of a cue, and says how it ended. */
import type { Step } from '../../core/cues/show'
import type { CueWorld } from '../../core/cues/world'
import { cueActor } from '../../core/orders/actors'
import type { SwitcherAction } from '../../core/tally/switcher'
import { type Looks, WHOLE_LOOK } from '../picture/looks'
import type { Devices, MessageValues } from './devices'
import { type TravellingDeps, travel } from './travelling'
import type { Outcome } from './travelWaits'

export interface DoStepDeps extends TravellingDeps {
  world(): CueWorld
  devices: Devices
  looks: Pick<Looks, 'recall'>
  /** @returns why it was not done */
  switchTo(action: SwitcherAction, camera: string | null): Promise<string | null>
  /** What a message can have filled in. */
  values(): MessageValues
}

const done = (problem: string | null): Outcome =>
  problem === null ? { ok: true } : { ok: false, why: problem }

/** One after the other: two that begin at once must not mix up what is on preview. */
class SwitcherLine {
  private last: Promise<unknown> = Promise.resolve()

  constructor(private readonly switchTo: DoStepDeps['switchTo']) {}

  act(action: SwitcherAction, camera: string | null): Promise<string | null> {
    const mine = this.last.then(async () => {
      if (action === 'preview' || camera === null) return this.switchTo(action, camera)
      // What is cut to is what stands on preview.
      const problem = await this.switchTo('preview', camera)
      return problem ?? this.switchTo(action, camera)
    })
    this.last = mine.catch(() => {})
    return mine
  }
}

export function doStep(
  deps: DoStepDeps,
): (step: Step, name: string, atLeast: number | null) => Promise<Outcome> {
  const switcher = new SwitcherLine(deps.switchTo)
  return async ({ does }: Step, name: string, atLeastSeconds: number | null): Promise<Outcome> => {
    const world = deps.world()
    switch (does.t) {
      case 'recall': {
        const preset = world.preset(does.preset)
        if (!preset) return { ok: false, why: 'This preset no longer exists.' }
        const order = {
          t: 'recall',
          preset: preset.id,
          pace: does.pace,
          atLeastSeconds,
          whole: false,
        } as const
        return travel(deps, order, preset.cameraId, preset.id, cueActor(name))
      }
      case 'power': {
        const { camera, on } = does
        const result = await deps.gate.perform({ t: 'power', camera, on }, cueActor(name))
        return result.ok ? { ok: true } : { ok: false, why: result.message }
      }
      case 'switch': {
        return done(await switcher.act(does.action, does.camera))
      }
      case 'look': {
        const recalled = await deps.looks.recall(
          does.look,
          { ...WHOLE_LOOK, seconds: does.seconds },
          cueActor(name),
        )
        if (recalled.is !== 'done') return { ok: false, why: recalled.why }
        return done(recalled.problems[0] ?? null)
      }
      case 'message':
        return deps.devices.send(does.device, does.message, deps.values())
      // The others end by themselves, or are run by the desk of cues.
      default:
        return { ok: true }
    }
  }
}
