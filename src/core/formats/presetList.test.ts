import fc from 'fast-check'
import { presetsFromText, presetsToCsv, presetsToJson } from './presetList'
import { FileRefused } from './venueFile'

const number = (min: number, max: number) =>
  fc.double({ min, max, noNaN: true }).map((x) => Math.round(x * 1000) / 1000 + 0)
const preset = fc.record({
  camera: fc.integer({ min: 1, max: 20 }),
  number: fc.integer({ min: 1, max: 300 }),
  name: fc.constantFrom('Host', 'Seat; 4', '=2+2', '-dash', 'Said "so"', 'Übersicht'),
  section: fc.constantFrom('', 'Tables', '+44'),
  mark: fc.constantFrom('', '▲', '-'),
  panDeg: number(-170, 170),
  tiltDeg: number(-30, 90),
  magnification: number(1, 30),
  focusAuto: fc.boolean(),
  focus: fc.option(fc.integer({ min: 0, max: 60_000 }), { nil: null }),
})
const list = fc.uniqueArray(preset, { selector: (p) => `${p.camera} ${p.number}`, maxLength: 12 })

test('presets come back out of CSV and JSON as they were', () => {
  fc.assert(
    fc.property(list, (presets) => {
      expect(presetsFromText(presetsToCsv(presets))).toEqual(presets)
      expect(presetsFromText(presetsToJson(presets))).toEqual(presets)
    }),
    { numRuns: 300 },
  )
})

test('what is wrong is told with its line', () => {
  const why = (text: string) => {
    try {
      presetsFromText(text)
    } catch (error) {
      if (error instanceof FileRefused) return error.message
      throw error
    }
    return null
  }
  const head = 'camera,number,name,pan_deg,tilt_deg,magnification\n'
  expect(why('a,b\n1,2')).toMatch(/column "camera" is missing/)
  expect(why(`${head}1,1,Host,10,-5,2\n1,2,,10,-5,2`)).toMatch(/^Line 3: name/)
  expect(why(`${head}1,1,Host,left,-5,2`)).toMatch(/^Line 2: panDeg/)
  expect(why(`${head}1,1,Host,10,-5,2\n1,1,Twice,10,-5,2`)).toMatch(/there twice/)
  expect(why('{"format":"other"}')).toMatch(/refused/)
  expect(why('{')).toMatch(/damaged/)
})
