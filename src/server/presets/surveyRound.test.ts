/** A camera that photographs all it can reach, in virtual time: refused, without pictures, silent, taken away. */
import { solveBump } from '../../core/bump/bump'
import { type HeadProfile, opened } from '../../core/heads/profile'
import { headProfile } from '../../core/heads/registry'
import { createLens } from '../../core/optics/lens'
import type { View } from '../../core/optics/sphere'
import type { CameraOrder } from '../../core/orders/orders'
import type { LivePose, PresetPose } from '../../core/presets/pose'
import type { Round } from '../../core/presets/round'
import { seeded } from '../../core/seeded'
import type { SurveyMap } from '../../core/survey/map'
import type { Reach } from '../../core/survey/plan'
import { HandClock } from '../cameras/testing/handClock'
import type { LookedAgain } from '../jobs/bump'
import type { TakenPicture } from '../jobs/surveys'
import { bumpRound } from './bumpRound'
import type { RoundWork } from './roundWork'
import { surveyRound } from './surveyRound'

const PROFILE = headProfile('common-20x')
const WIDE = createLens(PROFILE.lens).hfovDeg(createLens(PROFILE.lens).wide)
const HANGING = { upsideDown: true, mirrored: false }

interface World {
  profile?: HeadProfile
  fails?: (n: number) => 'refuses' | 'no picture' | 'falls silent' | 'taken' | null
  hanging?: boolean
  /** Only this much anew. */
  part?: Reach
  /** Is there one already? */
  surveyed?: boolean
  /** Looks for a bump by these instead. */
  former?: { view: View; jpeg: Uint8Array }[]
}

async function survey({
  fails = () => null,
  hanging = false,
  profile = PROFILE,
  part,
  surveyed = true,
  former,
}: World) {
  const clock = new HandClock()
  const random = seeded(3)
  let at: PresetPose = { panDeg: 0, tiltDeg: 0, zoom: 0, focusAuto: true, focus: null, encoder: null }
  let orders = 0
  let travel: { presetId: string; state: string; reason: string | null } | null = null
  let goesOn = true
  let [state, fate]: [string, ReturnType<typeof fails>] = ['ready', null]
  const ended: string[] = []
  const troubles: string[] = []
  let told: Partial<Round> = {}
  const kept: { pictures: TakenPicture[]; map: SurveyMap | null }[] = []
  const stood: PresetPose[] = []
  const work = {
    clock,
    member: {
      row: { id: 'c', mount: hanging ? HANGING : { upsideDown: false, mirrored: false }, limits: null },
      camera: {
        profile,
        get health() {
          return { state }
        },
        get travel() {
          return travel
        },
        get pose() {
          return { ...at } as LivePose
        },
        restingPose: async () => ({ ...at, focused: true }),
      },
      pictures: {
        async fresh() {
          if (fate === 'no picture') return null
          stood.push(at)
          return Uint8Array.of(stood.length - 1)
        },
      },
    },
    async perform(order: CameraOrder) {
      if (order.t !== 'goToPose') throw new RangeError(order.t)
      fate = fails(orders++)
      if (fate === 'refuses') return { ok: false, message: 'Refused.' }
      if (fate === 'falls silent') state = 'silent'
      if (fate === 'taken') goesOn = false
      travel = { presetId: '', state: 'travelling', reason: null }
      clock.after(300 + random() * 900, () => {
        // Heads stop a little beside where they were sent.
        at = { ...order.pose, panDeg: order.pose.panDeg! + 0.05, zoom: order.pose.zoom }
        travel = { presetId: '', state: 'arrived', reason: null }
      })
      return { ok: true }
    },
    get goesOn() {
      return goesOn
    },
    end(reason: string) {
      ended.push(reason)
      goesOn = false
    },
    tell: (change: Partial<Round>) => {
      told = { ...told, ...change }
    },
    trouble: (text: string) => troubles.push(text),
    store: {
      surveyed: async () => surveyed,
      formerLooks: async () => former ?? [],
      // All things stand 2 degrees further to the right than they did, along the horizon.
      bumpOf: async (looked: LookedAgain[]) =>
        solveBump(
          looked.map(({ was, now }) => ({
            ...{ was, now },
            points: Array.from({ length: 40 }, (_, i) => {
              const deg = i / 2 - 10
              const at = (x: number) => Math.tan((x * Math.PI) / 180) / Math.tan((WIDE * Math.PI) / 360)
              return [at(deg), 0, at(deg + 2 - 0.05), 0] as const
            }),
          })),
        ),
      async keepSurvey(pictures: TakenPicture[], map: SurveyMap | null) {
        kept.push({ pictures, map })
        return null
      },
    },
  } as unknown as RoundWork
  const done = former ? bumpRound(work) : surveyRound(work, part)
  let over = false
  void done.then(() => {
    over = true
  })
  for (let i = 0; i < 10_000 && !over; i++) await clock.run(20)
  await done
  return { kept, ended, troubles, told, orders, stood }
}

test.each([false, true])(
  'every picture is kept with the view in which it was taken, hanging from the ceiling: %s',
  async (hanging) => {
    const { kept, told, stood, troubles } = await survey({ hanging })
    const [{ pictures, map }] = kept as [{ pictures: TakenPicture[]; map: SurveyMap }]
    expect(pictures.length).toBe(told.total)
    expect(told).toMatchObject({ through: told.total, taken: told.total })
    expect(troubles).toEqual([])
    for (const { jpeg, view } of pictures) {
      const head = stood[jpeg[0]!]!
      // A camera that hangs upside down looks the other way on both axes.
      expect(view.panDeg).toBeCloseTo(hanging ? -head.panDeg! : head.panDeg!, 6)
      expect(view.tiltDeg).toBeCloseTo(hanging ? -head.tiltDeg! : head.tiltDeg!, 6)
    }
    const { pan, tilt } = PROFILE
    expect(map.width / map.pxPerDeg).toBeGreaterThan(pan.maxDeg - pan.minDeg)
    expect(map.height / map.pxPerDeg).toBeGreaterThan(tilt.maxDeg - tilt.minDeg)
  },
)

test('some that fail are told and left out; the rest is kept', async () => {
  const { kept, told, troubles } = await survey({
    fails: (n) => (n === 3 ? 'refuses' : n === 6 ? 'no picture' : null),
  })
  expect(troubles).toHaveLength(2)
  expect(kept[0]!.pictures).toHaveLength(told.total! - 2)
})

test.each([
  ['no picture', /sends no pictures/],
  ['refuses', /could not begin: Refused/],
  ['falls silent', /does not answer/],
] as const)(
  'a camera that %s: the survey ends in a sentence, and the former one stays',
  async (fate, said) => {
    const { kept, ended, orders } = await survey({ fails: () => fate })
    expect(kept).toEqual([])
    expect(ended[0]).toMatch(said)
    expect(orders).toBeLessThan(8)
  },
)

test('a hand that takes the camera ends it at once', async () => {
  const { kept, orders } = await survey({ fails: (n) => (n === 4 ? 'taken' : null) })
  expect(kept).toEqual([])
  expect(orders).toBe(5)
})

test('a head whose ends are not known is surveyed once round; one that sees too little is asked for limits', async () => {
  const { kept, told } = await survey({ profile: opened(PROFILE) })
  expect(told.total).toBeLessThan(100)
  expect(kept[0]!.pictures).toHaveLength(told.total!)
  const zoomCurve = PROFILE.lens.zoomCurve.map(([z, f]) => [z, 40 * f] as [number, number])
  const narrow = await survey({ profile: { ...opened(PROFILE), lens: { ...PROFILE.lens, zoomCurve } } })
  expect(narrow.ended[0]).toMatch(/Set limits/)
  expect(narrow.orders).toBe(0)
})

test('a part of it anew takes few pictures, all of which show some of it, and keeps the map', async () => {
  const part = { pan: { minDeg: 20, maxDeg: 80 }, tilt: { minDeg: -10, maxDeg: 0 } }
  const whole = await survey({})
  const { kept, told } = await survey({ part })
  expect(told.total!).toBeLessThan(whole.told.total! / 4)
  expect(kept[0]!.map).toBeNull()
  for (const { view } of kept[0]!.pictures) {
    expect(view.panDeg + view.hfovDeg / 2).toBeGreaterThan(20)
    expect(view.panDeg - view.hfovDeg / 2).toBeLessThan(80)
    expect(Math.abs(view.tiltDeg + 5)).toBeLessThan(view.vfovDeg / 2)
  }
  const first = await survey({ part, surveyed: false })
  expect(first.ended[0]).toMatch(/no survey yet/)
  expect(first.orders).toBe(0)
})

const FORMER = [-40, 0, 40].map((panDeg) => ({
  view: { panDeg, tiltDeg: 0, hfovDeg: WIDE, vfovDeg: WIDE / 1.8 },
  jpeg: Uint8Array.of(0),
}))

test('looking for a bump: each former place is looked at again, and the turn is told', async () => {
  const { told, stood } = await survey({ former: FORMER })
  expect(stood).toHaveLength(3)
  expect(told).toMatchObject({ total: 3, taken: 3, bumped: true })
  expect(told.bump!.panDeg).toBeCloseTo(2, 1)
  expect(told.bump!.pictures).toBe(3)
})

test.each([
  [{ former: [] }, /nothing to compare with/],
  [{ former: FORMER, fails: () => 'no picture' as const }, /No picture could be taken/],
  [{ former: FORMER, fails: () => 'falls silent' as const }, /does not answer/],
])('looking for a bump ends in a sentence: %#', async (world, said) => {
  const { ended, told } = await survey(world)
  expect(ended[0]).toMatch(said)
  expect(told.bump).toBeUndefined()
})
