/** A whole evening in virtual time: the desk of cues, the gate and its rules as they are, cameras and switcher as models. */
import type { ShowNow } from '../../../core/cues/now'
import type { CueState } from '../../../core/cues/predict'
import type { CueView, Show } from '../../../core/cues/show'
import { world as barn, CAMERAS } from '../../../core/cues/testing/barn'
import type { CueCamera, CuePreset, CueWorld, Place } from '../../../core/cues/world'
import { SERVER } from '../../../core/facts/facts'
import type { Actor } from '../../../core/orders/actors'
import { type Guard, USUAL_GUARD } from '../../../core/orders/guardSettings'
import { RULES } from '../../../core/orders/rules'
import { MAY_ALL } from '../../../core/people/may'
import { ALL_PARTS } from '../../../core/presets/pace'
import type { PresetView } from '../../../core/presets/preset'
import type { TallyState } from '../../../core/tally/sources'
import { HandClock } from '../../cameras/testing/handClock'
import { MemoryFacts } from '../../facts/facts'
import type { Member } from '../../fleet'
import { carryOut } from '../../gate/carryOut'
import { MemoryClaims } from '../../gate/claims'
import { Gate } from '../../gate/gate'
import { CueDesk, type CueDeskDeps } from '../cueDesk'
import type { Devices } from '../devices'
import { doStep } from '../doStep'
import { Recorder } from '../recorder'
import { Tours } from '../tours'
import { TravelWaits } from '../travelWaits'
import { ModelCamera } from './modelCamera'

export const OPERATOR: Actor = { kind: 'browser', id: 'ann', name: () => 'Ann', may: MAY_ALL }

export interface EveningOptions {
  show: Show
  cameras?: readonly string[]
  world?: (show: Show) => CueWorld
  guard?: Guard
  random(): number
  /** Share of orders that come late, and of messages that fail. */
  loss: number
}

export class Evening {
  readonly clock = new HandClock()
  readonly facts = new MemoryFacts(this.clock)
  readonly models = new Map<string, ModelCamera>()
  readonly air: { camera: string; fromMs: number; toMs: number | null }[] = []
  readonly gate: Gate
  readonly world: CueWorld
  readonly told: ShowNow[] = []
  readonly guard: Guard
  kept: Parameters<CueDeskDeps['keep']>[0] | null = null
  desk: CueDesk
  tours!: Tours
  private program: string | null = null
  private preview: string | null = null
  private readonly tallies = new Map<string, TallyState>()
  private readonly waits: TravelWaits

  constructor(private readonly options: EveningOptions) {
    const { show, random, loss } = options
    this.world = (options.world ?? ((s: Show) => barn(s.cues)))(show)
    this.guard = options.guard ?? USUAL_GUARD
    for (const id of options.cameras ?? CAMERAS) {
      const late = () => (random() < loss ? 0.3 + random() * 0.5 : 0)
      const camera = this.world.camera(id) as CueCamera
      const place: Place = { panDeg: 0, tiltDeg: 0, zoom: 4000 }
      this.models.set(id, new ModelCamera(camera, place, this.clock, this.facts, late))
    }
    const memberOf = (id: string): Member | null => {
      const camera = this.models.get(id)
      const row = { id, name: camera?.of.name, pace: null, holdPicture: false }
      return camera ? ({ row, camera } as unknown as Member) : null
    }
    const presetOf = (id: string) => {
      const preset = this.world.preset(id) as CuePreset | null
      return preset && ({ ...preset, light: null, memory: null, parts: ALL_PARTS } as unknown as PresetView)
    }
    this.gate = new Gate({
      rules: RULES,
      claims: new MemoryClaims(
        this.clock,
        (id) => this.models.get(id)?.busy ?? false,
        () => {},
      ),
      memberOf,
      members: () => [...this.models.keys()].map((id) => memberOf(id)!),
      presetOf: () => null,
      cameraOf: (order) => (order.t === 'recall' ? (presetOf(order.preset)?.cameraId ?? null) : order.camera),
      carryOut: carryOut({
        memberOf,
        preset: presetOf,
        move: () => null,
        look: () => {},
        startRound: () => null,
      }),
      taken: (camera, by) => this.desk.taken(camera, by),
      onAir: (camera) => ({ guard: this.guard, tally: this.tallies.get(camera) ?? 'off', speed: 0.25 }),
      refusedHand: () => {},
      failed: (_, error) => {
        throw error
      },
    })
    this.waits = new TravelWaits(this.facts)
    this.desk = this.open()
  }

  get state(): CueState {
    const places = new Map([...this.models].map(([id, { place }]) => [id, place]))
    return { places, program: this.program, preview: this.preview }
  }

  /** The server ends and begins again: cameras are stopped, and all it knows is what was kept. */
  restart(): void {
    this.desk.close()
    for (const model of this.models.values()) model.halt()
    this.desk = this.open()
  }

  /** The newest run of a cue as it was last told. */
  runOf(cue: CueView) {
    return this.desk.now.runs.find((run) => run.cue === cue.id)
  }

  close(): void {
    this.desk.close()
    this.facts.close()
  }

  private open(): CueDesk {
    const { options, clock, gate, waits, world } = this
    const travelling = { gate, waits }
    const later = (ms: number) => new Promise<void>((resolve) => clock.after(ms, resolve))
    const devices = {
      async send() {
        await later(15)
        return options.random() < options.loss ? { ok: false, why: 'It did not answer.' } : { ok: true }
      },
    }
    const tours = new Tours({
      ...travelling,
      clock,
      tour: world.tour,
      move: world.move,
      kept: () => null,
      still: (camera) => void gate.perform({ t: 'hold', camera }, OPERATOR),
      changed: () => {},
    })
    this.tours = tours
    const desk = new CueDesk({
      ...{ clock, tours, recorder: new Recorder() },
      show: () => options.show,
      world: () => world,
      state: () => this.state,
      timeZone: () => 'Europe/London',
      lend: (cameras, actor) => gate.lend(cameras, actor),
      doStep: doStep({
        ...travelling,
        world: () => world,
        devices: devices as unknown as Devices,
        switchTo: (action, camera) => this.switchTo(action, camera),
        looks: { recall: async () => ({ is: 'done', undo: '', problems: [] }) },
        values: () => ({}),
      }),
      tell: (now) => {
        this.told.push(now)
        this.facts.put('show', SERVER, now)
      },
      keep: async (kept) => {
        this.kept = kept
        return true
      },
      notice: () => {},
    })
    desk.open('event', this.kept)
    return desk
  }

  private async switchTo(action: string, camera: string | null): Promise<string | null> {
    if (action === 'preview') this.preview = camera
    else if (action === 'cut') this.onProgram(this.preview, 0)
    else if (action === 'fade') this.onProgram(this.preview, 1000)
    return null
  }

  /** @param bothMs in a fade both are seen for so long */
  private onProgram(next: string | null, bothMs: number): void {
    const former = this.program
    if (next === former) return
    this.program = next
    this.preview = former
    if (next) {
      this.air.push({ camera: next, fromMs: this.clock.now(), toMs: null })
      this.tally(next, 'program')
    }
    const off = () => {
      if (former === null || this.program === former) return
      for (const span of this.air) if (span.camera === former) span.toMs ??= this.clock.now()
      this.tally(former, 'off')
    }
    if (bothMs > 0) this.clock.after(bothMs, off)
    else off()
  }

  private tally(camera: string, state: TallyState): void {
    this.tallies.set(camera, state)
    this.gate.cameOnAir(camera)
    this.desk.tallied(camera, state)
  }
}
