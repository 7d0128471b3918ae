/** What a grant gives: never more than it says, whatever is drawn. */
import fc from 'fast-check'
import * as v from 'valibot'
import { type DeskContents, mayOf, type OpenNow } from './may'
import { EVERYWHERE, Grant, type Reach, RIGHT_NAMES, ROLE_NAMES, ROLES, rightsOf } from './rights'

const CAMERAS = ['a', 'b', 'c'].map((one) => `00000000-0000-4000-8000-00000000000${one}`)
const EVENT = '00000000-0000-4000-8000-0000000000e1'
const DESK = '00000000-0000-4000-8000-0000000000d1'
const PRESETS = CAMERAS.flatMap((cameraId, i) =>
  ['', 'Tables'].map((section, j) => ({ id: `p${i}${j}`, cameraId, section })),
)
const some = <T>(of: readonly T[]) => fc.option(fc.subarray([...of]), { nil: null })
const reach = fc.record<Reach>({
  cameras: some(CAMERAS),
  sections: some(['', 'Tables']),
  cues: some(CAMERAS),
  desk: fc.constantFrom(null, DESK),
  rights: fc.dictionary(fc.constantFrom(...RIGHT_NAMES), fc.boolean()) as fc.Arbitrary<Reach['rights']>,
})
const grant = fc.record<Grant>({
  role: fc.constantFrom(...ROLE_NAMES),
  reach,
  events: fc.oneof(
    fc.constant({}),
    reach.map((one) => ({ [EVENT]: one })),
  ),
})
const contents: fc.Arbitrary<DeskContents | null> = fc.option(
  fc.record({
    presets: fc.subarray(PRESETS.map(({ id }) => id)),
    cues: fc.subarray(CAMERAS),
    pad: fc.option(fc.constantFrom(...CAMERAS), { nil: null }),
  }),
  { nil: null },
)
const open = (desk: DeskContents | null): OpenNow => ({
  event: EVENT,
  desk: (id) => (id === DESK ? desk : null),
  cameraOf: (id) => PRESETS.find((preset) => preset.id === id)?.cameraId ?? null,
})

test('nobody but an owner reaches a camera, preset or cue that their reach leaves out', () => {
  fc.assert(
    fc.property(grant, contents, (given, desk) => {
      const may = mayOf(given, open(desk))
      if (given.role === 'owner') {
        expect([may.everywhere, CAMERAS.every(may.camera), PRESETS.every(may.preset)]).toEqual([
          true,
          true,
          true,
        ])
        return
      }
      const at = given.events[EVENT] ?? given.reach
      for (const preset of PRESETS) {
        if (!may.preset(preset)) continue
        expect(may.camera(preset.cameraId)).toBe(true)
        if (at.desk !== null) expect(desk?.presets).toContain(preset.id)
        else {
          expect(at.cameras === null || at.cameras.includes(preset.cameraId)).toBe(true)
          expect(at.sections === null || at.sections.includes(preset.section)).toBe(true)
        }
      }
      for (const camera of CAMERAS) if (may.drives(camera)) expect(may.camera(camera)).toBe(true)
      // What is hidden from somebody is not called everything.
      if (at.desk !== null || at.cameras !== null) expect(may.everywhere).toBe(false)
    }),
  )
})

test('a helper’s desk gives what stands on it, and one that was removed gives nothing', () => {
  const at: Grant = { role: 'helper', reach: { ...EVERYWHERE, desk: DESK }, events: {} }
  const desk = { presets: ['p00'], cues: [], pad: CAMERAS[2]! }
  const may = mayOf(at, open(desk))
  expect([...may.rights].sort()).toEqual(['drive', 'recall', 'see'])
  expect(CAMERAS.map(may.camera)).toEqual([true, false, true])
  expect(CAMERAS.map(may.drives)).toEqual([false, false, true])
  const gone = mayOf(at, open(null))
  expect([gone.rights.size, CAMERAS.some(gone.camera), PRESETS.some(gone.preset)]).toEqual([0, false, false])
})

test('a right that differs counts, in its event alone; an owner keeps all', () => {
  const rights = { store: true, drive: false } as const
  const at: Grant = { role: 'helper', reach: EVERYWHERE, events: { [EVENT]: { ...EVERYWHERE, rights } } }
  expect(rightsOf(at, EVENT).has('store')).toBe(true)
  expect(rightsOf(at, EVENT).has('drive')).toBe(false)
  expect([...rightsOf(at, null)].sort()).toEqual([...ROLES.helper.rights].sort())
  expect(rightsOf({ ...at, role: 'owner' }, EVENT).size).toBe(RIGHT_NAMES.length)
})

test('what is kept of a grant comes back as it was', () => {
  fc.assert(
    fc.property(grant, (given) => {
      expect(v.parse(Grant, JSON.parse(JSON.stringify(given)))).toEqual(given)
    }),
  )
})
