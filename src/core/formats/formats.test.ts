import fc from 'fast-check'
import { anySettings } from '../cameras/anyCamera'
import { camerasFromCsv, camerasToCsv } from './cameraCsv'
import { FileRefused, parseVenueJson, VENUE_FORMAT } from './venueFile'

test('a list of cameras comes back out of its CSV as it was', () => {
  fc.assert(
    fc.property(fc.array(anySettings, { maxLength: 6 }), (list) => {
      const numbered = list.map((c, i) => ({ ...c, number: i + 1 }))
      expect(camerasFromCsv(camerasToCsv(numbered)).map((c) => c.settings)).toEqual(numbered)
    }),
    { numRuns: 300 },
  )
})

test('a spreadsheet finds no formula in it', () => {
  const [row] = fc.sample(anySettings, 1)
  const csv = camerasToCsv([{ ...row!, name: '=HYPERLINK("http://evil.example")' }])
  expect(csv).toContain(`"'=HYPERLINK`)
})

test('a list in another order, with fewer columns and a byte order mark, is read', () => {
  const [camera] = camerasFromCsv(
    '\uFEFFName,Port,KIND,host,Number\r\nHost,52381,visca-udp,10.0.0.9,4\r\n\r\n',
  )
  expect(camera!.settings).toMatchObject({
    number: 4,
    name: 'Host',
    enabled: true,
    connection: { kind: 'visca-udp', host: '10.0.0.9', port: 52381 },
  })
})

test('a list without the columns of the habits says nothing about them, so that they stay as they are', () => {
  const [short] = camerasFromCsv('number,name,kind,host,port,pace\n1,A,visca-udp,h,1,2.5 s\n')
  expect(short!.settings.pace).toEqual({ kind: 'timed', seconds: 2.5 })
  expect(short!.keepHabits).toEqual(['holdPicture', 'alsoInMemory', 'leash', 'headConfirmed'])
  const [whole] = camerasFromCsv(camerasToCsv([fc.sample(anySettings, 1)[0]!]))
  expect(whole!.keepHabits).toEqual([])
  expect(() => camerasFromCsv('number,name,kind,host,port,pace\n1,A,visca-udp,h,1,soon\n')).toThrow(
    /Line 2: pace/,
  )
})

test('what is wrong is told with its line', () => {
  const why = (text: string) => {
    try {
      camerasFromCsv(text)
    } catch (error) {
      if (error instanceof FileRefused) return error.message
      throw error
    }
    return null
  }
  const head = 'number,name,kind,host,port\n'
  expect(why('a,b\n1,2')).toMatch(/column "number" is missing/)
  expect(why(`${head}1,A,visca-udp,10.0.0.1,52381\n2,B,visca-udp,10.0.0.2,x`)).toMatch(/^Line 3: .*port/)
  expect(why(`${head}1,A,visca-udp,h,1\n1,B,visca-udp,h,2`)).toMatch(/^Line 3: number 1 is there twice/)
  expect(why(`${head}1,A,telepathy,h,1`)).toMatch(/^Line 2:/)
  expect(why(`${head}${'1,A,visca-udp,h,1\n'.repeat(501)}`)).toMatch(/more than 500/)
  expect(why('x'.repeat(2_000_001))).toMatch(/too long/)
})

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const venue = () => ({
  format: VENUE_FORMAT,
  version: 1,
  venue: { id: id(1), name: 'Osier Barn' },
  cameras: [1, 2].map((n) => ({
    id: id(10 + n),
    order: n,
    number: n,
    name: `Camera ${n}`,
    enabled: true,
    connection: { kind: 'visca-udp', host: `10.0.0.${n}`, port: 52381 },
    headProfile: 'marsh-20x',
    picture: { kind: 'none' },
    mount: { upsideDown: false, mirrored: false },
    pageUrl: null,
  })),
  commandSets: [],
  events: [
    {
      id: id(20),
      name: 'Quiz',
      open: true,
      presets: [1, 2].map((n) => ({
        id: id(30 + n),
        cameraId: id(11),
        number: n,
        order: n,
        name: `Preset ${n}`,
        pose: { panDeg: 1, tiltDeg: 2, zoom: 3, focusAuto: true, focus: null },
        picture: null,
        storedAt: '2026-01-02T03:04:05.000Z',
      })),
    },
  ],
})
type Venue = ReturnType<typeof venue>

test('a venue file that is damaged, too new or inconsistent is refused, with the reason', () => {
  const why = (change: (file: Venue) => void) => {
    const file = venue()
    change(file)
    try {
      parseVenueJson(JSON.stringify(file))
    } catch (error) {
      if (error instanceof FileRefused) return error.message
      throw error
    }
    return null
  }
  expect(why(() => {})).toBeNull()
  expect(why((f) => Object.assign(f, { version: 2 }))).toMatch(/newer version/)
  expect(why((f) => Object.assign(f, { format: 'other' }))).toMatch(/no venue file/)
  expect(why((f) => Object.assign(f.cameras[1]!, { number: 1 }))).toMatch(/same number/)
  expect(why((f) => Object.assign(f.cameras[1]!, { id: id(11) }))).toMatch(/two cameras are the same/)
  expect(why((f) => Object.assign(f.events[0]!.presets[0]!, { cameraId: id(99) }))).toMatch(
    /belongs to no camera/,
  )
  expect(why((f) => Object.assign(f.events[0]!.presets[1]!, { number: 1 }))).toMatch(/same number/)
  expect(why((f) => Object.assign(f.events[0]!.presets[0]!, { picture: '../../etc/passwd' }))).toMatch(
    /picture/,
  )
  expect(why((f) => Object.assign(f.events[0]!.presets[0]!.pose, { panDeg: 'left' }))).toMatch(/panDeg/)
  expect(() => parseVenueJson('{"format":')).toThrow(/cannot be read/)
  expect(() => parseVenueJson('[]')).toThrow(/no venue file/)
})
