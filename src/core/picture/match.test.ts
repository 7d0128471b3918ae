/** Matching against cameras as the mathematics has them: casts, exposures, steps and noise drawn by seed. */
import fc from 'fast-check'
import { settingOf } from '../heads/namedControls'
import { controlsOf } from '../heads/pictureControls'
import { headProfile } from '../heads/registry'
import { seeded } from '../seeded'
import { Matcher } from './match'
import { chartPatches, difference, fromLinear, type Linear, measurePatch, movedBetween, unfit } from './patch'
import type { SettingValues } from './settings'

const painted = ({ r, g, b }: Linear, noise = 0, random = seeded(1)) => {
  const data = new Uint8ClampedArray(20 * 20 * 4)
  for (let i = 0; i < data.length; i += 4) {
    const n = (random() - 0.5) * noise
    data.set([fromLinear(r) + n, fromLinear(g) + n, fromLinear(b) + n, 255], i)
  }
  return data
}
const light = fc.double({ min: 0.02, max: 0.8, noNaN: true })

test('a patch is measured in linear light, whatever it is, within what 8 bits allow', () => {
  fc.assert(
    fc.property(light, light, light, (r, g, b) => {
      const found = measurePatch(painted({ r, g, b }))
      for (const [is, has] of [
        [r, found.r],
        [g, found.g],
        [b, found.b],
      ] as const)
        expect(Math.abs(is - has) / is).toBeLessThan(0.04)
      expect(unfit(found)).toBeNull()
    }),
  )
})

test('what is clipped, dark, uneven or moved is refused with the reason', () => {
  expect(unfit(measurePatch(painted({ r: 1, g: 1, b: 1 })))).toMatch(/too bright/)
  expect(unfit(measurePatch(painted({ r: 0.0005, g: 0.0005, b: 0.0005 })))).toMatch(/too dark/)
  const half = painted({ r: 0.6, g: 0.6, b: 0.6 })
  half.set(painted({ r: 0.02, g: 0.02, b: 0.02 }).subarray(0, half.length / 2))
  expect(unfit(measurePatch(half))).toMatch(/uneven/)
  expect(movedBetween({ r: 0.3, g: 0.3, b: 0.3 }, { r: 0.31, g: 0.3, b: 0.3 })).toBe(false)
  expect(movedBetween({ r: 0.3, g: 0.3, b: 0.3 }, { r: 0.5, g: 0.3, b: 0.3 })).toBe(true)
})

test('the difference of CIEDE2000 is that of the published pairs', () => {
  // Equal greys differ by nothing; grey against a slightly brighter one by about its difference in lightness.
  const grey = (y: number) => ({ r: y, g: y, b: y })
  expect(difference([grey(0.2)], [grey(0.2)]).mean).toBeCloseTo(0, 6)
  expect(difference([grey(0.184)], [grey(0.2)]).mean).toBeGreaterThan(1)
  expect(difference([grey(0.184)], [grey(0.2)]).mean).toBeLessThan(3)
})

/** A camera of the profile before a patch: what it makes of it by its settings. */
function camera(profile: string, random: () => number, bent = { saturation: 7, gamma: 0 }) {
  const all = controlsOf(headProfile(profile))
  const specs = all.map((c) => settingOf(c, all)).filter((s) => s !== null)
  const cast = { r: 2 ** (random() - 0.5), b: 2 ** (random() - 0.5) }
  const off = random() * 4 - 2
  const values: SettingValues = {
    ...{ exposureMode: '0', whiteBalance: '0', iris: 13, shutter: 2, gain: 9, redGain: 128, blueGain: 128 },
    ...bent,
  }
  const iris = specs.find((s) => s.key === 'iris')!
  const f = (value: number) =>
    iris.kind === 'range' ? (iris.marks.find(([at]) => at === value)?.[1] ?? 1) : 1
  const see = (scene: readonly Linear[]): Linear[] => {
    const stops = off + 2 * Math.log2(2.8 / f(values.iris as number)) + ((values.gain as number) - 9) / 6.0206
    const k = 2 ** stops
    const [red, blue] = [values.redGain, values.blueGain].map((v) => 2 ** (((v as number) - 128) / 64))
    return scene.map(({ r, g, b }) => {
      const noisy = (y: number) => Math.min(1, Math.max(0, y * (1 + (random() - 0.5) * 0.01)))
      const [red2, green2, blue2] = [r * k * cast.r * red!, g * k, b * k * cast.b * blue!]
      const grey = 0.2126 * red2 + 0.7152 * green2 + 0.0722 * blue2
      const strong = 1 + (((values.saturation as number) - 7) / 7) * 0.9
      const bend = 1 / (1 + (values.gamma as number) * 0.12)
      const out = (y: number) => noisy(Math.max(0, grey + (y - grey) * strong) ** bend)
      return { r: out(red2), g: out(green2), b: out(blue2) }
    })
  }
  return { specs, values, see }
}

function matched(
  profile: string,
  seed: number,
  scene: readonly Linear[],
  bent?: { saturation: number; gamma: number },
) {
  const random = seeded(seed)
  const { specs, values, see } = camera(profile, random, bent)
  const matcher = new Matcher(specs, values, scene)
  for (const { key, value } of matcher.begin()) values[key] = value
  const before = difference(see(scene), scene).mean
  let rounds = 0
  // No longer than the server's time allows.
  for (let turns = matcher.next(see(scene)); turns && rounds < 30; turns = matcher.next(see(scene))) {
    for (const { key, value } of turns) values[key] = value
    rounds += 1
  }
  for (const { key, value } of matcher.stop()) values[key] = value
  return { before, after: difference(see(scene), scene).mean, rounds, values }
}

test.each(['marsh-20x', 'marsh-12x', 'sedge-10x', 'mere-18x'])(
  '%s: from 100 random casts and exposures to within 2 of the patch, in at most a dozen rounds',
  (profile) => {
    for (let seed = 0; seed < 100; seed++) {
      const random = seeded(1000 + seed)
      const y = 0.08 + random() * 0.3
      const scene = [{ r: y * (0.8 + random() * 0.5), g: y, b: y * (0.7 + random() * 0.5) }]
      const { after, rounds } = matched(profile, seed, scene)
      expect([seed, after < 2, rounds <= 12]).toEqual([seed, true, true])
    }
  },
)

test('a chart: within 4 over all of its patches, from 30 random casts', () => {
  const places = chartPatches([
    { x: 0, y: 0 },
    { x: 1, y: 0 },
    { x: 1, y: 1 },
    { x: 0, y: 1 },
  ])
  expect(places).toHaveLength(24)
  expect(places[0]).toEqual({ x: 1 / 12, y: 1 / 8 })
  expect(places[23]!.x).toBeCloseTo(11 / 12)
  const random = seeded(9)
  const scene = places.map(() => ({
    r: 0.03 + random() * 0.5,
    g: 0.03 + random() * 0.5,
    b: 0.03 + random() * 0.5,
  }))
  for (let seed = 0; seed < 30; seed++) expect(matched('marsh-20x', 500 + seed, scene).after).toBeLessThan(4)
})

test('saturation and gamma that differ are found by a chart, and a single colour leaves them alone', () => {
  const random = seeded(17)
  const light = () => 0.03 + random() * 0.4
  const scene = Array.from({ length: 24 }, () => ({ r: light(), g: light(), b: light() }))
  for (let seed = 0; seed < 30; seed++) {
    const drawn = seeded(900 + seed)
    const bent = { saturation: 3 + Math.floor(drawn() * 9), gamma: Math.floor(drawn() * 4) }
    const { after } = matched('marsh-20x', 700 + seed, scene, bent)
    expect([seed, bent, after, after < 4]).toEqual([seed, bent, after, true])
    const one = matched('marsh-20x', 700 + seed, scene.slice(0, 1), bent)
    expect(one.values).toMatchObject(bent)
  }
})

test('a camera that cannot be turned is left as it was', () => {
  const scene = [{ r: 0.2, g: 0.2, b: 0.2 }]
  const matcher = new Matcher([], {}, scene)
  expect(matcher.begin()).toEqual([])
  expect(matcher.next([{ r: 0.4, g: 0.2, b: 0.2 }])).toBeNull()
})
