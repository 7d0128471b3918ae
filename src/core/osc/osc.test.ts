import { fromBuffer, toBuffer } from 'osc-min'
import { seeded } from '../seeded'
import { readOsc, writeOsc } from './osc'

test('the bytes of the published example', () => {
  // From the specification's own examples: /oscillator/4/frequency with the float 440.
  const written = [...'/oscillator/4/frequency\0,f\0\0'].map((c) => c.charCodeAt(0))
  const packet = Uint8Array.from([...written, 0x43, 0xdc, 0, 0])
  expect(readOsc(packet)).toEqual([{ path: '/oscillator/4/frequency', values: [440] }])
})

test('another library reads what we write, and we what it writes', () => {
  const values = ['Curlews', 7, -0.5, true, false, null]
  const read = fromBuffer(writeOsc({ path: '/cut/a', values }))
  expect(read).toMatchObject({ oscType: 'message', address: '/cut/a' })
  if (read.oscType === 'message') expect(read.args.map((a) => a.value)).toEqual(values)
  const view = toBuffer({
    timetag: [0, 1],
    elements: [
      {
        address: '/a',
        args: [
          { type: 'string', value: 'four' },
          { type: 'integer', value: 3 },
          { type: 'double', value: 0.25 },
        ],
      },
      { timetag: [0, 1], elements: [{ address: '/b/c', args: [] }] },
    ],
  } as never)
  const packet = new Uint8Array(view.buffer, view.byteOffset, view.byteLength)
  expect(readOsc(packet)).toEqual([
    { path: '/a', values: ['four', 3, 0.25] },
    { path: '/b/c', values: [] },
  ])
})

test('a blob keeps its bytes', () => {
  const values = [Uint8Array.of(1, 2, 3), 'x']
  expect(readOsc(writeOsc({ path: '/blob', values }))).toEqual([{ path: '/blob', values }])
})

test('random and damaged packets never crash it, and half a packet says nothing', () => {
  const random = seeded(13)
  const pick = (n: number) => Math.floor(random() * n)
  const good = writeOsc({ path: '/tally/3/program', values: [1, 'Lectern', 0.5, true] })
  const bundle = Uint8Array.from([...'#bundle\0'].map((c) => c.charCodeAt(0)).concat(new Array(8).fill(0)))
  for (let i = 0; i < 400_000; i++) {
    const nested = Uint8Array.from([...bundle, 0, 0, 0, good.length, ...good])
    const packet =
      random() < 0.2 ? new Uint8Array(pick(48)).map(() => pick(256)) : random() < 0.5 ? nested : good.slice()
    if (packet.length > 0) packet[pick(packet.length)] = pick(256)
    for (const { path } of readOsc(packet)) if (!path.startsWith('/')) throw new Error(path)
  }
  for (let end = 0; end < good.length - 1; end++)
    if (end % 4 !== 0) expect(readOsc(good.subarray(0, end)).every((m) => m.values.length < 4)).toBe(true)
})

test('bundles in bundles without end are refused', () => {
  let packet = writeOsc({ path: '/x', values: [] })
  const head = [...'#bundle\0'].map((c) => c.charCodeAt(0)).concat(new Array(8).fill(0))
  for (let i = 0; i < 40; i++)
    packet = Uint8Array.from([...head, 0, 0, packet.length >> 8, packet.length & 255, ...packet])
  expect(readOsc(packet)).toEqual([])
})
