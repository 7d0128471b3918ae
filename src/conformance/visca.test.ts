/** VISCA cameras as those in the field are, each oddity alone and in seeded combinations, against the real driver. */
import { isBlind } from '../core/facts/capabilities'
import { type HeadCheck, mended } from '../core/heads/check'
import type { HeadProfile } from '../core/heads/profile'
import { headProfile } from '../core/heads/registry'
import { seeded } from '../core/seeded'
import type { Push } from '../core/stick/speeds'
import { checkHead } from '../server/cameras/headCheck'
import { fieldRig, type Odd, type Over } from './fieldRig'
import { connects, drivesAndStops, storesAndRecalls } from './proof'

const STEPS = 14.4
/** Max(0.1 degree, three encoder steps), and the gears' own play. */
const offBy = (odd: Odd) =>
  Math.max(0.1, 3 / Math.abs(odd.head?.panSteps ?? STEPS)) + 2 * (odd.head?.backlashDeg ?? 0) + 0.02

const IP: readonly Over[] = ['framed', 'raw', 'tcp']
const ALL: readonly Over[] = [...IP, 'serial']

const ODDITIES: Record<string, { odd: Odd; over: readonly Over[]; says?: RegExp }> = {
  'as the standard has it': { odd: {}, over: ALL },
  'completions alone, never acknowledged': { odd: { visca: { acks: 'completion' } }, over: ALL },
  'commands never answered': { odd: { visca: { acks: 'none' } }, over: ALL, says: /never answers a command/ },
  'answers in a socket': { odd: { visca: { answersInSocket: true } }, over: ALL, says: /number of a socket/ },
  'answers as camera 2': { odd: { visca: { answersAs: 2 } }, over: IP, says: /another camera/ },
  'the reset answered under another number': { odd: { framing: { resets: 'other' } }, over: ['framed'] },
  'the reset never answered': { odd: { framing: { resets: 'never' } }, over: ['framed'], says: /reset/ },
  'answers under number 0': { odd: { framing: { numbers: 'zero' } }, over: ['framed'], says: /their order/ },
  'answers under numbers of its own': { odd: { framing: { numbers: 'own' } }, over: ['framed'] },
  'counting on from another controller': {
    odd: { framing: { countsFrom: 50_000, resets: 'never' } },
    over: ['framed'],
  },
  'losing count now and then': { odd: { framing: { losesCountAfter: 90 } }, over: ['framed'] },
  'several answers in one packet': {
    odd: { framing: { joins: true } },
    over: ['framed'],
    says: /several answers/,
  },
  'pan in five digits': { odd: { visca: { digits: [5, 4] } }, over: ALL, says: /more digits/ },
  'both in five digits': { odd: { visca: { digits: [5, 5] } }, over: ALL },
  'a short status': { odd: { visca: { shortStatus: true } }, over: ALL },
  'questions refused at first': { odd: { visca: { refusesAtFirst: true } }, over: ALL },
  'power and focus never told': { odd: { visca: { ignores: ['04 00', '04 38', '04 48'] } }, over: ALL },
  'a packet in each picture': { odd: { visca: { gapMs: 33 } }, over: IP },
  'a packet in every other picture': { odd: { visca: { gapMs: 45 } }, over: IP },
  'sockets left busy': { odd: { visca: { socketsLeftBusy: true } }, over: ALL },
  'sockets held for long': { odd: { visca: { holdsSocketMs: 400 } }, over: ALL, says: /sockets were busy/ },
  'an address set by a switch': { odd: { fixedAddress: 3 }, over: ['serial'], says: /fixed addresses/ },
  'late to move': { odd: { head: { delayMs: 150 } }, over: ALL },
  'positions late and rarely renewed': { odd: { head: { renewMs: 200, lagMs: 300 } }, over: ALL },
  'a ramp that starts anew with every packet': { odd: { head: { restartsRamp: true } }, over: ALL },
  'its own slow mode': { odd: { head: { slow: 0.3 } }, over: ALL },
  backlash: { odd: { head: { backlashDeg: 0.08 } }, over: ALL },
  'the speed of a move ignored': { odd: { head: { ignoresMoveSpeed: true } }, over: ALL },
  'stopping two steps beside its goal': { odd: { head: { misses: 2 } }, over: ALL },
  'reporting where it goes': { odd: { head: { reportsGoal: true } }, over: ALL },
}

const CASES = Object.entries(ODDITIES).flatMap(([name, { over, ...rest }]) =>
  over.map((one) => ({ name, over: one, ...rest })),
)

test.each(CASES)('$over: $name', async ({ over, odd, says }) => {
  const rig = fieldRig({ over, odd })
  await connects(rig)
  await rig.until(() => rig.camera.pose !== null, 12_000, 'tells where it stands')
  await drivesAndStops(rig, 0.6, 0.5, 1200)
  await drivesAndStops(rig, -0.5, -0.4, 900)
  expect(await storesAndRecalls(rig)).toBeLessThan(offBy(odd))
  if (says) expect(rig.body.quirks.join(' ')).toMatch(says)
})

test.each(ALL)(
  '%s: without positions it is driven, kept in its memory, and said to be blind',
  async (over) => {
    const rig = fieldRig({ over, odd: { visca: { ignores: ['06 12'], refuses: ['04 47'] } } })
    const { camera, clock, truth, until } = rig
    await connects(rig)
    await until(() => isBlind(camera.capabilities), 20_000, 'says that it is blind')
    expect(camera.pose).toBeNull()
    await drivesAndStops(rig, 0.6, 0.5, 1000)
    const at = truth()
    const set = camera.perform({ t: 'memory', camera: 'c', action: 'set', number: 4 })
    await clock.run(3000)
    expect(await set).toMatchObject({ ok: true })
    await drivesAndStops(rig, -0.6, 0, 1000)
    const recalled = camera.recallMemory('p', 4)
    await clock.run(8000)
    expect(await recalled).toMatchObject({ ok: true })
    expect(truth().pan).toBeCloseTo(at.pan, 1)
  },
)

test('without zoom feedback pan and tilt are known, stored and gone to', async () => {
  const rig = fieldRig({ over: 'raw', odd: { visca: { refuses: ['04 47'] } } })
  await connects(rig)
  await rig.until(() => rig.camera.pose !== null, 12_000)
  expect(rig.camera.pose).toMatchObject({ zoom: null, hfovDeg: null })
  expect(rig.camera.capabilities.position).toEqual({ panTilt: true, zoom: false })
  await drivesAndStops(rig, 0.5, 0.4, 800)
  expect(await storesAndRecalls(rig)).toBeLessThan(offBy({}))
})

test.each(ALL)('%s: with a wrong profile it drives both ways and goes to its own presets', async (over) => {
  // Five times as many steps in a degree, counted the other way and with more digits than the profile says.
  const odd: Odd = { head: { panSteps: -80, tiltSteps: 80, panZero: 4000 }, visca: { digits: [5, 4] } }
  const rig = fieldRig({ over, odd })
  await connects(rig)
  await rig.until(() => rig.camera.pose !== null, 12_000)
  rig.head.place(60, 10, 0)
  await rig.clock.run(1500)
  for (const pan of [0.6, -0.6, 0.6, -0.6]) await drivesAndStops(rig, pan, 0, 900)
  expect(await storesAndRecalls(rig)).toBeLessThan(3 / 80 + 1e-6)
})

test.each(IP)('%s: the check of the head finds and mends a wrong scale and a reversed axis', async (over) => {
  const odd: Odd = { head: { panSteps: -80, tiltSteps: 80 }, visca: { digits: [5, 4] } }
  const found = async (profile: HeadProfile) => {
    const rig = fieldRig({ over, odd, profile })
    const { camera, clock } = rig
    await connects(rig)
    await rig.until(() => camera.pose !== null, 12_000)
    let check: HeadCheck | string | null = null
    const push = (wanted: Push) => {
      camera.drive(wanted)
      return true
    }
    void checkHead({ camera, profile, clock, push }).then((result) => {
      check = result
    })
    await rig.until(() => check !== null, 20_000)
    return { check: check as unknown as HeadCheck, positions: rig.body.quirks.join(' ') }
  }
  const wrong = await found(headProfile('common-20x'))
  expect(wrong.check.findings.map((f) => `${f.axis} ${f.kind}`)).toEqual([
    'pan reversed',
    'pan scale',
    'tilt scale',
  ])
  expect(wrong.positions).toMatch(/more digits/)
  const mends = wrong.check.findings.flatMap((f) => f.mend ?? [])
  const profile = mended(headProfile('common-20x'), mends)
  expect([profile.pan.unitsPerDeg, profile.pan.reversed, profile.tilt.unitsPerDeg]).toEqual([80, true, 80])
  const right = await found(profile)
  expect(right.check.findings.map((f) => f.kind)).toEqual(['fine', 'fine'])
  expect(right.check.delayMs).toBeGreaterThan(40)
  expect(right.check.delayMs).toBeLessThan(600)
})

interface Combination {
  seed: number
  over: Over
  odd: Odd
  names: string
}

function combination(seed: number): Combination {
  const random = seeded(seed * 7919)
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!
  const over = pick(ALL)
  const fit = CASES.filter((c) => c.over === over)
  const all = [pick(fit), pick(fit), pick(fit)]
  const odd: Odd = {}
  for (const { odd: one } of all) {
    odd.visca = { ...odd.visca, ...one.visca }
    odd.head = { ...odd.head, ...one.head }
    odd.framing = { ...odd.framing, ...one.framing }
    if (one.fixedAddress) odd.fixedAddress = one.fixedAddress
  }
  return { seed, over, odd, names: all.map(({ name }) => name).join('; ') }
}

const COMBINATIONS = Array.from({ length: 200 }, (_, i) => combination(i + 1))

test.each(COMBINATIONS)('combination $seed over $over: $names', async ({ seed, over, odd }) => {
  const rig = fieldRig({ over, odd, seed })
  if (over !== 'serial') {
    // What TCP loses it sends again, a fifth of a second late, and all that follows waits for it.
    rig.way.loss = rig.random() < 0.5 ? 0 : rig.random() * (over === 'tcp' ? 0.03 : 0.1)
    rig.way.delayMs = 1 + rig.random() * 30
  }
  await connects(rig, 15_000)
  await rig.until(() => rig.camera.pose !== null, 20_000, 'tells where it stands')
  await drivesAndStops(rig, 0.6, 0.5, 1200)
  await drivesAndStops(rig, -0.5, -0.4, 900)
  expect(await storesAndRecalls(rig)).toBeLessThan(offBy(odd))
})
