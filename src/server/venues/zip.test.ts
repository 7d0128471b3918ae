/** Hostile and damaged venue files: refused whole, with a reason, in bounded time and memory. */
import { deflateRawSync } from 'node:zlib'
import { ZipFile } from 'yazl'
import { FileRefused, VENUE_FORMAT, type VenueFile } from '../../core/formats/venueFile'
import { seeded } from '../../core/seeded'
import { readVenueZip, writeVenueZip } from './zip'

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const PICTURE = `pictures/${id(5)}.jpg`
const SURVEYED = `pictures/${id(10)}.jpg`
const PLAN = `pictures/${id(11)}.jpg`
const JPEG = Buffer.from([0xff, 0xd8, 0xff, 0xe0, 1, 2, 3, 0xff, 0xd9])
const file: VenueFile = {
  format: VENUE_FORMAT,
  version: 1,
  venue: { id: id(1), name: 'Osier Barn', timeZone: 'Europe/London' },
  cameras: [
    {
      id: id(2),
      order: 1,
      number: 1,
      name: 'Gallery',
      enabled: true,
      connection: { kind: 'visca-udp', host: '10.0.0.1', port: 52381 },
      headProfile: 'marsh-20x',
      picture: { kind: 'none' },
      mount: { upsideDown: false, mirrored: false },
      limits: { panMinDeg: -30, panMaxDeg: null, tiltMinDeg: null, tiltMaxDeg: 20 },
      pace: { kind: 'timed', seconds: 3 },
      holdPicture: true,
      alsoInMemory: false,
      leash: false,
      headConfirmed: true,
      pageUrl: null,
    },
  ],
  commandSets: [],
  headProfiles: [],
  tally: null,
  devices: [
    {
      ...{ id: id(7), name: 'House lights', local: true },
      messages: [
        {
          ...{ id: 'b', name: 'Bright', line: 'UDP 10.0.0.2:9 x', expects: '', withinMs: 1500, retries: 0 },
        },
      ],
    },
  ],
  events: [
    {
      id: id(3),
      name: 'Quiz',
      open: true,
      words: ['Host'],
      guard: null,
      surveys: [
        {
          ...{ cameraId: id(2), takenAt: '2026-01-02T03:04:05.000Z', levels: 1, pictures: 1 },
          seams: { medianPx: null, worstPx: null },
          map: {
            projection: 'equirectangular',
            panDeg: -30,
            tiltDeg: 20,
            pxPerDeg: 10,
            width: 600,
            height: 300,
          },
          shots: [
            { view: { panDeg: 1, tiltDeg: 2, hfovDeg: 60, vfovDeg: 36 }, gain: 1, age: 0, picture: SURVEYED },
          ],
          pieces: [{ level: 0, column: 0, row: 0, picture: SURVEYED }],
        },
      ],
      grids: [
        {
          ...{ id: id(9), cameraId: id(2), section: 'Seats', seats: [{ label: '1.1', presetId: id(4) }] },
          grid: {
            corners: [
              { panDeg: -10, tiltDeg: 0 },
              { panDeg: 10, tiltDeg: 0 },
              { panDeg: 12, tiltDeg: -9 },
              { panDeg: -12, tiltDeg: -9 },
            ],
            ...{ seats: [3, 4], aislesAfter: [2], aisleSeats: 1.5, bow: 0, firstRow: 1, firstSeat: 1 },
            ...{ backwards: false, numbering: '12.7', overlap: 0.5 },
          },
        },
      ],
      room: {
        points: [{ id: id(8), name: 'Lectern', marks: [{ cameraId: id(2), panDeg: 3, tiltDeg: -4 }] }],
        length: null,
        pins: [{ spot: { kind: 'camera', id: id(2) }, u: 0.5, v: 1 }],
        placed: [{ presetId: id(4), u: 0.2, v: 0.3 }],
        picture: { name: PLAN, width: 800, height: 600 },
      },
      show: {
        cues: [
          {
            ...{ id: id(6), order: 1, name: 'Doors', notes: '', listed: true, expected: '19:30', times: 1 },
            onTally: null,
            steps: [
              {
                id: 'a',
                start: { kind: 'at', seconds: 1 },
                does: { t: 'message', device: id(7), message: 'b' },
              },
            ],
          },
        ],
        ...{ tours: [], moves: [], starts: [], buttons: [], looks: [], desks: [] },
      },
      presets: [
        {
          id: id(4),
          cameraId: id(2),
          number: 1,
          order: 1,
          name: 'Host',
          section: 'Stage',
          mark: '▲',
          pinned: 1,
          pace: null,
          parts: null,
          look: null,
          memory: 4,
          light: {
            exposure: { mode: 'manual', shutter: 6, iris: 12, gain: 4, bright: null },
            whiteBalance: null,
          },
          pose: { panDeg: 1, tiltDeg: 2, zoom: 3, focusAuto: true, focus: null, encoder: null },
          surveyed: false,
          picture: PICTURE,
          storedAt: '2026-01-02T03:04:05.000Z',
        },
      ],
    },
  ],
}

const ALL = [PICTURE, SURVEYED, PLAN]
const good = () => writeVenueZip({ file, pictures: new Map(ALL.map((name) => [name, JPEG])) }, '{}')

function zipOf(entries: Record<string, Buffer>): Promise<Buffer> {
  const zip = new ZipFile()
  for (const [name, bytes] of Object.entries(entries)) zip.addBuffer(bytes, name)
  zip.end()
  return new Promise((resolve) => {
    const pieces: Buffer[] = []
    zip.outputStream
      .on('data', (piece: Buffer) => pieces.push(piece))
      .on('end', () => resolve(Buffer.concat(pieces)))
  })
}

async function refusal(zip: Buffer): Promise<string> {
  const error = await readVenueZip(zip).then(
    () => null,
    (e: unknown) => e,
  )
  if (error === null) return ''
  if (!(error instanceof FileRefused)) throw error
  return error.message
}

/** The same bytes in place of others everywhere; both of one length. */
function replaced(zip: Buffer, from: string, to: string): Buffer {
  return Buffer.from(zip.toString('latin1').replaceAll(from, to), 'latin1')
}

const json = Buffer.from(JSON.stringify(file))

test('what was written is read back', async () => {
  const bundle = await readVenueZip(await good())
  expect(bundle.file).toEqual(file)
  for (const name of ALL) expect(bundle.pictures.get(name)).toEqual(JPEG)
})

test('paths that lead elsewhere, strange entries and doubles are refused', async () => {
  for (const name of [
    '../../etc/cron.d/x.',
    '/etc/passwd/abcdefg',
    'C:\\windows\\system3',
    'pictures/../../abcde',
  ]) {
    const plain = 'a'.repeat(name.length)
    const zip = await zipOf({ 'venue.json': json, [plain]: JPEG })
    expect(await refusal(replaced(zip, plain, name))).toMatch(/does not belong|damaged/)
  }
  expect(await refusal(await zipOf({ 'venue.json': json, 'run.sh': JPEG }))).toMatch(/does not belong/)
  const twice = await zipOf({ 'venue.json': json, 'venue.jsoo': json })
  expect(await refusal(replaced(twice, 'venue.jsoo', 'venue.json'))).toMatch(/damaged/)
})

test('a bomb is refused by what it says it holds, and by what it holds when it lies', async () => {
  const zeros = Buffer.alloc(33 * 1024 * 1024)
  const bomb = await zipOf({ 'venue.json': zeros })
  expect(bomb.length).toBeLessThan(100_000)
  expect(await refusal(bomb)).toMatch(/far more/)
  // It says that it unpacks to a hundred bytes.
  const packed = deflateRawSync(zeros)
  expect(packed.length).toBeLessThan(100_000)
  const liar = Buffer.from(bomb)
  const size = Buffer.alloc(4)
  size.writeUInt32LE(zeros.length)
  const small = Buffer.alloc(4)
  small.writeUInt32LE(100)
  for (let at = liar.indexOf(size); at >= 0; at = liar.indexOf(size, at + 4)) small.copy(liar, at)
  const before = process.memoryUsage().arrayBuffers
  expect(await refusal(liar)).toMatch(/damaged/)
  expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(16 * 1024 * 1024)
})

test('a file without its parts, or with wrong ones, says which', async () => {
  expect(await refusal(Buffer.from('GIF89a'))).toMatch(/no zip at all/)
  expect(await refusal(await zipOf({}))).toMatch(/no venue\.json/)
  expect(await refusal(await zipOf({ 'venue.json': json }))).toMatch(/picture is missing/)
  expect(await refusal(await zipOf({ 'venue.json': json, [PICTURE]: Buffer.from('<svg>') }))).toMatch(
    /no JPEG/,
  )
  const locked = await good()
  // The bit that says "encrypted", in the central directory's first entry.
  const flags = locked.indexOf(Buffer.from('PK\x01\x02', 'latin1')) + 8
  locked.writeUInt8(locked.readUInt8(flags) | 1, flags)
  expect(await refusal(locked)).toMatch(/password|damaged/)
})

test('2,000 mutations of a good file: read as it was, or refused', async () => {
  const random = seeded(11)
  const zip = await good()
  let refused = 0
  for (let i = 0; i < 2000; i++) {
    const bytes = Buffer.from(zip.subarray(0, i % 5 === 0 ? Math.floor(random() * zip.length) : zip.length))
    for (let n = 0; n < 1 + (i % 3); n++)
      if (bytes.length) bytes[Math.floor(random() * bytes.length)] = random() * 256
    if ((await refusal(bytes)) !== '') refused += 1
  }
  // The rest hit dates, checksums of nothing, or the schema that nobody reads back.
  expect(refused).toBeGreaterThan(1000)
}, 60_000)
