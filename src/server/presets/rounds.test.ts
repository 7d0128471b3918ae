/** Rounds of a camera that refuses, stops short, falls silent and is taken by a hand, in virtual time. */

import { headProfile } from '../../core/heads/registry'
import type { Actor } from '../../core/orders/actors'
import { OFF_AIR } from '../../core/orders/guard'
import { RULES } from '../../core/orders/rules'
import { MAY_ALL } from '../../core/people/may'
import type { LivePose, PresetPose } from '../../core/presets/pose'
import type { PresetView } from '../../core/presets/preset'
import { type Round, type RoundOrder, roundWords } from '../../core/presets/round'
import type { Travel } from '../../core/presets/standing'
import { seeded } from '../../core/seeded'
import type { CameraResult, OwnOrder, Recall } from '../cameras/camera'
import { HandClock } from '../cameras/testing/handClock'
import type { Member } from '../fleet'
import { carryOut } from '../gate/carryOut'
import { MemoryClaims } from '../gate/claims'
import { Gate } from '../gate/gate'
import type { Shot } from '../store/versions'
import { Rounds } from './rounds'

const poseAt = (n: number): PresetPose => ({
  panDeg: n,
  tiltDeg: -n,
  zoom: n,
  focusAuto: true,
  focus: null,
  encoder: null,
})
const REFUSED: CameraResult = { ok: false, message: 'Refused.', refused: true }

type Fate = 'arrives' | 'refuses' | 'stops short'

/** Memories and presets 1 to 12: each looks at the pose of its number. */
class Travelling {
  readonly profile = null
  readonly arrival = { deg: 0.1, zoom: 65 }
  readonly capabilities = { memories: 12, position: { panTilt: true, zoom: true } }
  health = { state: 'ready' }
  memoryRuns = false
  travel: Travel | null = null
  at = 0
  moving = false
  orders = 0
  halts = 0
  fates = new Map<number, Fate>()
  private cancel = () => {}

  constructor(
    private readonly clock: HandClock,
    private readonly random: () => number,
  ) {}

  get pose(): LivePose | null {
    if (this.health.state !== 'ready') return null
    const { at, moving } = this
    return {
      ...poseAt(at),
      hfovDeg: 60,
      power: true,
      moving,
      held: false,
      late: false,
      atMs: this.clock.now(),
    }
  }

  private go(number: number, arrive: () => void): CameraResult {
    this.orders += 1
    if (this.health.state !== 'ready') return { ok: false, message: 'Silent.' }
    this.cancel()
    if (this.fates.get(number) === 'refuses') return REFUSED
    this.moving = true
    this.cancel = this.clock.after(300 + this.random() * 3000, () => {
      this.moving = false
      this.at = this.fates.get(number) === 'stops short' ? -1 : number
      arrive()
    })
    return { ok: true }
  }

  async recall({ id, pose }: Recall): Promise<CameraResult> {
    const travel = { presetId: id, leftMs: 0, totalMs: 0, reason: null, eased: false }
    this.travel = { ...travel, state: 'travelling' }
    const result = this.go(pose.panDeg!, () => {
      const short = this.at === -1
      this.travel = { ...travel, state: short ? 'failed' : 'arrived', reason: short ? 'Short.' : null }
    })
    if (!result.ok) this.travel = { ...travel, state: 'failed', reason: result.message }
    return result
  }

  async perform(order: OwnOrder): Promise<CameraResult> {
    if (order.t !== 'memory') throw new RangeError(order.t)
    this.memoryRuns = true
    const result = this.go(order.number, () => {
      this.memoryRuns = false
    })
    if (!result.ok) this.memoryRuns = false
    return result
  }

  async restingPose() {
    const { pose, moving } = this
    return pose && !moving ? { ...pose, focused: true } : null
  }

  finger(): void {}

  halt(): void {
    this.halts += 1
    this.moving = false
    this.cancel()
  }
}

const PRESETS = Array.from({ length: 12 }, (_, i) => ({
  id: `p${i + 1}`,
  number: i + 1,
  name: 'Seat',
  pose: poseAt(i + 1),
  light: null,
})) as unknown as PresetView[]

function setUp(seed = 1) {
  const clock = new HandClock()
  const camera = new Travelling(clock, seeded(seed))
  const pictures = { fresh: async () => Uint8Array.of(camera.at) }
  const mount = { upsideDown: false, mirrored: false }
  let member = {
    row: { id: 'c', name: 'C', pace: null, mount, limits: null },
    camera,
    pictures,
  } as unknown as Member | null
  const kept = new Map<number, number>()
  const store = {
    open: true,
    presets: () => PRESETS,
    async renewPicture(preset: PresetView) {
      if (camera.at !== preset.number) return 'it does not stand there'
      kept.set(preset.number, camera.at)
      return null
    },
    async takeIn(memory: number, shot: Shot) {
      kept.set(memory, shot.pose!.panDeg!)
    },
    formerLooks: async () => [],
    surveyed: async () => true,
    keepSurvey: async (): Promise<string | null> => null,
    fromPictures: async () => ({ turning: null, found: [], targets: [] }),
    matches: async () => [],
    bumpOf: async () => null,
    keepLearnt: async () => {},
    learnt: async () => null,
  }
  let told: Round | null = null
  const memberOf = () => member
  const gate: Gate = new Gate({
    rules: RULES,
    claims: new MemoryClaims(
      clock,
      () => camera.moving,
      () => {},
    ),
    memberOf,
    members: () => (member ? [member] : []),
    presetOf: () => null,
    cameraOf: () => 'c',
    carryOut: carryOut({
      memberOf,
      preset: (id) => PRESETS.find((p) => p.id === id) ?? null,
      move: () => null,
      look: () => {},
      startRound: (id, order) => rounds.start(id, order),
    }),
    taken: (id, by) => rounds.taken(id, by),
    onAir: () => OFF_AIR,
    refusedHand: () => {},
    failed: (_, error) => {
      throw error
    },
  })
  const held: string[] = []
  const rounds: Rounds = new Rounds({
    memberOf,
    storeOf: () => store,
    gate,
    clock,
    tell: (_camera, round) => {
      told = round
    },
    async hold(camera) {
      held.push(camera)
      return async () => {
        held.push('given back')
        return ['1 Gallery, Iris: it was refused']
      }
    },
  })
  const run = async (ms: number, until: () => boolean = () => false) => {
    for (let i = 0; i < ms / 20 && !until(); i++) await clock.run(20)
  }
  return {
    clock,
    camera,
    kept,
    held,
    store,
    rounds,
    gate,
    run,
    round: () => told!,
    over: () => told!.state !== 'running',
    takeOut: () => {
      member = null
    },
  }
}

const HAND: Actor = { kind: 'browser', id: 'b', name: () => 'Wren', may: MAY_ALL }
const MEMORIES: RoundOrder = { kind: 'memories', from: 1, to: 12 }
const ORDERS: readonly RoundOrder[] = [{ kind: 'pictures' }, MEMORIES]

test.each(ORDERS)('$kind: all is taken, each where it belongs, and the camera goes back', async (order) => {
  const { camera, kept, rounds, run, round, over } = setUp()
  camera.at = 5
  expect(rounds.start('c', order)).toBeNull()
  expect(rounds.start('c', order)).toMatch(/already/)
  await run(120_000, over)
  expect(round()).toMatchObject({ state: 'finished', total: 12, through: 12, taken: 12, troubles: [] })
  expect([...kept]).toEqual(PRESETS.map((p) => [p.number, p.number]))
  expect(rounds.all).toEqual([])
  await run(5000)
  expect(camera.at).toBe(5)
})

test.each(Array.from({ length: 30 }, (_, i) => i + 1))(
  'seed %i: whatever happens, it ends, counts what it took, and nothing is taken where it does not belong',
  async (seed) => {
    const random = seeded(seed)
    const world = setUp(seed)
    const { camera, kept, rounds, gate, run, round, over } = world
    for (let n = 1; n <= 12; n++) {
      const dice = random()
      camera.fates.set(n, dice < 0.2 ? 'refuses' : dice < 0.3 ? 'stops short' : 'arrives')
    }
    const order = ORDERS[seed % 2]!
    rounds.start('c', order)
    await run(random() * 25_000, over)
    const end = ['none', 'stop', 'hand', 'silent', 'taken out', 'other event'][seed % 6]!
    const running = !over()
    if (end === 'stop') rounds.stop('c')
    if (end === 'hand') gate.finger('c', { phase: 'move', u: 0, v: 0 }, HAND)
    if (end === 'silent') camera.health = { state: 'silent' }
    if (end === 'taken out') world.takeOut()
    if (end === 'other event') world.store.open = false
    const { orders } = camera
    await run(180_000, over)
    const { state, total, through, taken, empty, troubles, reason } = round()
    // Of one that falls silent after its last everything was taken.
    const wasOver = end === 'none' || !running || (end === 'silent' && through === 12)
    expect(state).toBe(wasOver ? 'finished' : 'stopped')
    expect(taken + empty + troubles.length).toBe(through)
    if (state === 'finished') expect([through, total]).toEqual([12, 12])
    expect(kept.size).toBe(taken)
    // One that stopped short is at -1 with its memory: what is kept is where it truly stands.
    for (const [number, at] of kept) expect(at).toBe(camera.fates.get(number) === 'stops short' ? -1 : number)
    if (state === 'stopped' && end !== 'silent') expect(camera.orders).toBe(orders)
    if (state === 'stopped') {
      expect(camera.halts).toBe(end === 'stop' || end === 'silent' ? 1 : 0)
      expect(reason ?? '').toMatch(
        { stop: /^$/, hand: /Somebody/, silent: /answer/, 'taken out': /again/, 'other event': /event/ }[
          end
        ]!,
      )
    }
    expect(rounds.all).toEqual([])
  },
)

test('what cannot begin says why', () => {
  const { rounds, takeOut } = setUp()
  expect(rounds.start('c', { kind: 'memories', from: 1, to: 20 })).toMatch(/12 memories/)
  expect(rounds.stop('c')).toBe(false)
  takeOut()
  expect(rounds.start('c', MEMORIES)).toMatch(/switched off/)
})

test('the database dies as a survey is kept: it says so, and the camera is free again', async () => {
  const { camera, store, rounds, run, round, over } = setUp()
  Object.assign(camera, { profile: headProfile('common-20x') })
  store.keepSurvey = async () => {
    throw new Error('the connection is gone')
  }
  expect(rounds.start('c', { kind: 'survey' })).toBeNull()
  await run(600_000, over)
  expect(round()).toMatchObject({ state: 'stopped', reason: expect.stringMatching(/could not go on/) })
  expect(rounds.all).toEqual([])
})

test('a round that is paused stands after what it was about, goes on when it is told to, and can be stopped meanwhile', async () => {
  const { camera, rounds, run, round, over } = setUp()
  expect(rounds.pause('c', true)).toBe(false)
  rounds.start('c', { kind: 'pictures' })
  await run(20_000, () => round().through >= 2)
  expect(rounds.pause('c', true)).toBe(true)
  expect(roundWords(round())).toMatch(/^Paused\. /)
  await run(5000)
  const { through } = round()
  const { at } = camera
  await run(30_000)
  expect([round().through, camera.at, camera.moving, over()]).toEqual([through, at, false, false])
  rounds.pause('c', false)
  await run(20_000, () => round().through > through)
  expect(round()).toMatchObject({ paused: false, state: 'running' })
  rounds.pause('c', true)
  await run(5000)
  rounds.stop('c')
  await run(5000, over)
  expect(round()).toMatchObject({ state: 'stopped', paused: false })
  expect(rounds.all).toEqual([])
})

test('a survey holds the picture of its camera, and gives it back however it ends; other rounds leave it alone', async () => {
  const { camera, held, rounds, run, round, over } = setUp()
  Object.assign(camera, { profile: headProfile('common-20x') })
  expect(rounds.start('c', { kind: 'survey' })).toBeNull()
  await run(1500)
  expect(held).toEqual(['c'])
  rounds.taken('c', HAND)
  await run(60_000, over)
  expect(round()).toMatchObject({ state: 'stopped', troubles: ['1 Gallery, Iris: it was refused'] })
  expect(held).toEqual(['c', 'given back'])
  expect(rounds.start('c', { kind: 'pictures' })).toBeNull()
  await run(300_000, over)
  expect(held).toHaveLength(2)
})
