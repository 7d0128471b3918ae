import fc from 'fast-check'
import { settingOf } from '../heads/namedControls'
import { controlsOf } from '../heads/pictureControls'
import { headProfile } from '../heads/registry'
import { fadedValue, looksCsvRows, planLook, settingsNow } from './looks'
import type { SettingValues } from './settings'
import { amountOf, stepped, stepsOf } from './units'

const specsOf = (id: string) => {
  const all = controlsOf(headProfile(id))
  return all.map((c) => settingOf(c, all)).filter((s) => s !== null)
}
const BY_HAND: SettingValues = { exposureMode: '3', whiteBalance: '5' }
const wish = (id: string, share: number): SettingValues => {
  const ranges = specsOf(id).filter((s) => s.kind === 'range')
  const turned = ranges.map((s) => [s.key, stepped(s, s.min, Math.round(share * stepsOf(s)))])
  return { ...Object.fromEntries(turned), ...BY_HAND }
}

test('what a look keeps is small, and is all that is needed to bring a camera of the same head back', () => {
  fc.assert(
    fc.property(
      fc.constantFrom('marsh-20x', 'marsh-12x', 'sedge-10x', 'mere-18x'),
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (head, a, b) => {
        const specs = specsOf(head)
        const kept = settingsNow(specs, wish(head, a))
        expect(JSON.stringify(kept).length).toBeLessThan(9000)
        const values = { ...wish(head, b), exposureMode: '0' }
        const { changes, missing } = planLook(kept, specs, values)
        expect(missing).toEqual([])
        for (const { key, to } of changes) Object.assign(values, { [key]: to })
        expect(planLook(kept, specs, values).changes).toEqual([])
        for (const { spec, value } of kept) expect(values[spec.key as keyof typeof values]).toBe(value)
        expect(changes[0]?.key).toBe('exposureMode')
      },
    ),
  )
})

test('at another head it is the same by unit: the f-number, not the step', () => {
  const specs = specsOf('mere-18x')
  const kept = settingsNow(specsOf('marsh-20x'), { ...BY_HAND, iris: 9, gain: 12 })
  const { changes } = planLook(kept, specs, { exposureMode: 'x', iris: 17, gain: 3 })
  const to = (key: string) => changes.find((c) => c.key === key)?.to
  const iris = specs.find((s) => s.key === 'iris')!
  expect(iris.kind === 'range' && amountOf(iris, to('iris') as number)).toBe(5.6)
  expect(to('gain')).toBe(12)
})

test('a fade goes in whole steps from one end to the other, whatever the scale', () => {
  const ranges = ['marsh-20x', 'sedge-10x'].flatMap(specsOf).filter((s) => s.kind === 'range')
  fc.assert(
    fc.property(fc.constantFrom(...ranges), fc.double({ min: 0, max: 1, noNaN: true }), (spec, share) => {
      const value = fadedValue(spec, spec.min, spec.max, share)
      expect(value).toBeGreaterThanOrEqual(spec.min)
      expect(value).toBeLessThanOrEqual(spec.max)
      expect(stepped(spec, value, 0)).toBe(value)
      expect(fadedValue(spec, spec.min, spec.max, 1)).toBe(spec.max)
      expect(fadedValue(spec, spec.min, spec.max, 0)).toBe(spec.min)
    }),
  )
})

test('as rows for another program', () => {
  const cameras = [{ camera: 'c', settings: settingsNow(specsOf('marsh-20x'), { ...BY_HAND, iris: 9 }) }]
  const rows = looksCsvRows(
    [{ id: 'l', name: 'Day', picture: null, fadeSeconds: 0, cameras }],
    () => '1 Gallery',
  )
  expect(rows[0]).toEqual(['look', 'camera', 'group', 'setting', 'value', 'amount', 'unit'])
  expect(rows).toContainEqual(['Day', '1 Gallery', 'exposure', 'Iris', 'f/5.6', '5.6', 'f'])
  expect(rows).toContainEqual(['Day', '1 Gallery', 'exposure', 'Exposure', 'Manual', '', ''])
})
