/** VISCA cameras as those in the field are, each oddity alone and in seeded combinations, against the real driver. */
import { UPRIGHT } from '../core/cameras/connection'
import { isBlind } from '../core/facts/capabilities'
import { type HeadCheck, mended } from '../core/heads/check'
import type { HeadProfile } from '../core/heads/profile'
import { headProfile } from '../core/heads/registry'
import { seeded } from '../core/seeded'
import type { Push } from '../core/stick/speeds'
import { type CheckHost, checkHead } from '../server/cameras/headCheck'
import { fieldRig, type Odd } from './fieldRig'
import { ALL, CASES, IP, offBy } from './oddities'
import { connects, drivesAndStops, storesAndRecalls } from './proof'
import type { Over } from './wayLink'

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

/** Red and green after each order; where one lamp has no green, a preview is dark. */
const LAMPS = [
  ['lamp', [true, false], [false, false]],
  ['red and green', [true, false], [false, true]],
  ['states', [true, false], [false, true]],
] as const

test.each(LAMPS)(
  'tally lamps by "%s": found by what is refused, red on air, and off again',
  async (tally, red, green) => {
    const { camera, head, clock, ...rig } = fieldRig({ over: 'raw', odd: { visca: { tally } } })
    await connects({ camera, head, clock, ...rig })
    const shown = async (lamp: 'program' | 'preview' | 'off' | 'flash') => {
      const done = camera.perform({ t: 'lamp', camera: 'c', lamp })
      await clock.run(1500)
      expect(await done).toMatchObject({ ok: true })
      return [head.red, head.green]
    }
    expect(await shown('program')).toEqual(red)
    expect(await shown('preview')).toEqual(green)
    expect(await shown('off')).toEqual([false, false])
    expect(await shown('flash')).toEqual(red)
    await clock.run(3500)
    expect([head.red, head.green]).toEqual([false, false])
  },
)

test('a camera without a tally lamp says so', async () => {
  const rig = fieldRig({ over: 'raw', odd: { visca: { tally: 'none' } } })
  await connects(rig)
  const done = rig.camera.perform({ t: 'lamp', camera: 'c', lamp: 'program' })
  await rig.clock.run(2500)
  expect(await done).toMatchObject({ ok: false, message: expect.stringMatching(/cannot show a tally lamp/) })
})

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

/** Its real lens sees a little more than its profile says. */
const LENS = 1.06
const bytesOf = (value: unknown) => Buffer.from(JSON.stringify(value))

/** The check of a head that has this profile. @param pictures there is one, which shows where the head really points */
async function checked(over: Over, odd: Odd, profile: HeadProfile, pictures: boolean) {
  const rig = fieldRig({ over, odd, profile })
  const { camera, clock, truth } = rig
  await connects(rig)
  await rig.until(() => camera.pose !== null, 12_000)
  let check: HeadCheck | string | null = null
  const push = (wanted: Push) => {
    camera.drive(wanted)
    return true
  }
  const half = (deg: number) => Math.tan((deg * Math.PI) / 360)
  const host: CheckHost = {
    ...{ camera, profile, clock, push, mount: UPRIGHT },
    look: async () => (pictures ? bytesOf(truth()) : null),
    shift: async (before, after) => {
      const [a, b] = [before, after].map((bytes) => JSON.parse(String(bytes)))
      const wide = LENS * camera.pose!.hfovDeg!
      const [dx, dy] = [
        half(2 * (a.pan - b.pan)) / 2 / half(wide),
        half(2 * (b.tilt - a.tilt)) / 2 / half(wide),
      ]
      const shares = { dx, dy: dy * profile.lens.aspect }
      return Math.hypot(shares.dx, shares.dy) < 0.45 ? shares : null
    },
  }
  void checkHead(host).then((result) => {
    check = result
  })
  await rig.until(() => check !== null, 20_000)
  return { check: check as unknown as HeadCheck, positions: rig.body.quirks.join(' ') }
}
const kinds = ({ check }: Awaited<ReturnType<typeof checked>>) =>
  check.findings.map((f) => `${f.axis} ${f.kind}`)

test('with a picture the check tells the scale of a head whose speeds are not those of its profile', async () => {
  const slow: Odd = { head: { panSteps: 50, tiltSteps: 50, slow: 0.3 } }
  const { check } = await checked('raw', slow, headProfile('common-20x'), true)
  expect(check.byPicture).toBe(true)
  for (const { mend } of check.findings) expect(Math.abs(mend!.unitsPerDeg! / 50 - 1)).toBeLessThan(0.2)
  // By the speeds alone it would have been taken for right.
  expect(kinds(await checked('raw', slow, headProfile('common-20x'), false))).toEqual([
    'pan fine',
    'tilt fine',
  ])
})

test('with a picture a head that is driven the wrong way, and counts so too, is told from one that only counts so', async () => {
  const base = headProfile('common-20x')
  const turned = mended(base, [{ axis: 'pan', drivesReversed: true }])
  const wrongWay = await checked('raw', {}, turned, true)
  expect(kinds(wrongWay)).toEqual(['pan drives', 'tilt fine'])
  expect(mended(turned, [wrongWay.check.findings[0]!.mend!]).pan.drivesReversed).toBe(false)
  expect(kinds(await checked('raw', { head: { panSteps: -14.4 } }, base, true))).toEqual([
    'pan reversed',
    'tilt fine',
  ])
  const both = mended(turned, [{ axis: 'tilt', drivesReversed: true }])
  const hanging = await checked('raw', {}, both, true)
  expect(hanging.check.findings.map((f) => f.words).join()).toMatch(/hang upside down/)
})

test.each(IP)('%s: the check of the head finds and mends a wrong scale and a reversed axis', async (over) => {
  const odd: Odd = { head: { panSteps: -80, tiltSteps: 80 }, visca: { digits: [5, 4] } }
  const found = (profile: HeadProfile) => checked(over, odd, profile, false)
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
