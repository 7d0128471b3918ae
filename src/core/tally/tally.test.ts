/** The packets are written out by hand here, from the published layouts, and share nothing with the codecs. */
import { seeded } from '../seeded'
import { BY_HAND, BY_HTTP, TallyBoard } from './board'
import type { Signal } from './signal'
import { clashing, NO_TALLY, type TallySettings, type TallySource } from './sources'
import { readTsl5, Tsl5Stream } from './tsl5'
import { readTsl31Packet, Tsl31Stream } from './tsl31'

const bytes = (...parts: (number | string)[]) =>
  Uint8Array.from(parts.flatMap((p) => (typeof p === 'number' ? [p] : [...p].map((c) => c.charCodeAt(0)))))
const umd = (address: number, control: number, text = '') => bytes(0x80 + address, control, text.padEnd(16))

const A = '00000000-0000-4000-8000-00000000000a'
const B = '00000000-0000-4000-8000-00000000000b'
const common = { name: 'Desk', enabled: true, silentAfterSeconds: null }
const UMD: TallySource = {
  ...common,
  ...{ kind: 'tsl31-udp', id: 'umd', port: 4000, program: 2, preview: 1, cameras: { 1: A, 2: B } },
}
const lit = { lamp: 'any', colour: 'red' } as const
const FIVE: TallySource = {
  ...common,
  ...{ kind: 'tsl5-tcp', id: 'five', port: 4001, program: lit, preview: { lamp: 'any', colour: 'green' } },
  cameras: { '0.1': A },
}
const OSC: TallySource = {
  ...common,
  ...{ kind: 'osc-udp', id: 'osc', port: 4002, program: '/on/{input}', preview: '/next' },
  cameras: { 1: A, 2: B },
}
const boardOf = (...sources: TallySource[]) => {
  const board = new TallyBoard()
  board.configure({ ...NO_TALLY, sources, byHand: true }, [A, B], 0)
  const states = () => [A, B].map((id) => board.of(id)?.state)
  return { board, states }
}

describe('TSL 3.1', () => {
  test('each bit of its control byte is one lamp', () => {
    const signal = (control: number) => readTsl31Packet(umd(5, control, 'Lectern'))[0]
    expect(signal(0x32)).toEqual({
      kind: 'lamps',
      address: '5',
      label: 'Lectern',
      lamps: [false, true, false, false],
    })
    expect(signal(0x0f)).toMatchObject({ lamps: [true, true, true, true] })
    expect(signal(0x08)).toMatchObject({ lamps: [false, false, false, true] })
  })

  test('what is not whole and right says nothing', () => {
    expect(readTsl31Packet(umd(126, 0))).toHaveLength(1)
    for (const wrong of [
      umd(127, 0),
      umd(0, 0x40),
      umd(0, 0x80),
      umd(0, 0).subarray(1),
      bytes(...umd(0, 0), 1),
    ])
      expect(readTsl31Packet(wrong)).toEqual([])
    expect(readTsl31Packet(bytes(...umd(1, 2), ...umd(2, 1)))).toHaveLength(2)
    expect(readTsl31Packet(bytes(...umd(1, 2), ...umd(2, 0x80)))).toEqual([])
  })

  test('a serial line that begins, breaks off and goes on in the middle', () => {
    const stream = new Tsl31Stream()
    const line = bytes(
      ...umd(9, 1).subarray(7),
      ...umd(1, 2).subarray(0, 11),
      ...umd(2, 1, 'Two'),
      ...umd(3, 0),
    )
    const seen = [...line].flatMap((byte) => stream.take(bytes(byte)))
    expect(seen).toMatchObject([{ address: '2', label: 'Two' }, { address: '3' }])
  })
})

describe('TSL 5.0', () => {
  // Display 1 of screen 0: right lamp red, left lamp green, full brightness, "Cam".
  const one = bytes(0x0d, 0, 0, 0, 0, 0, 1, 0, 0xe1, 0, 3, 0, 'Cam')

  test('lamps, screen, index and text, in ASCII and UTF-16', () => {
    expect(readTsl5(one)).toEqual([
      { kind: 'colours', address: '0.1', label: 'Cam', left: 'green', text: 'off', right: 'red' },
    ])
    const two = bytes(0x14, 0, 0, 1, 2, 0, 7, 1, 0x0c, 0, 2, 0, 'é', 0, 8, 1, 0, 0, 2, 0, 'Z', 0)
    expect(readTsl5(two)).toMatchObject([
      { address: '2.263', label: 'é', text: 'amber' },
      { address: '2.264', label: 'Z', text: 'off' },
    ])
  })

  test('a length that lies, a version and control data that are not known say nothing', () => {
    const but = (at: number, value: number) => one.map((byte, i) => (i === at ? value : byte))
    for (const [at, value] of [
      [0, 12],
      [0, 14],
      [2, 1],
      [3, 2],
      [9, 0x80],
      [10, 4],
      [10, 200],
    ] as const)
      expect(readTsl5(but(at, value))).toEqual([])
  })

  test('over a connection: doubled FE, pieces, and a start in the middle', () => {
    // Display 254 (FE): doubled on the wire.
    const inner = bytes(0x0a, 0, 0, 0, 0, 0, 0xfe, 0xfe, 0, 0x02, 0, 0, 0)
    const stream = new Tsl5Stream()
    const wrapped = bytes(0xfe, 0x02, ...inner.slice(0, 13))
    const framed = bytes(0xfe, 0x02, ...one)
    const line = bytes(...framed.subarray(5), ...wrapped, 0xfe, 0x41, ...framed, ...framed)
    const seen = [...line].flatMap((byte) => stream.take(bytes(byte)))
    expect(seen.map((s) => 'address' in s && s.address)).toEqual(['0.254', '0.1', '0.1'])
  })
})

describe('what is on air', () => {
  const hear = (board: TallyBoard, address: number, control: number, ms: number) =>
    board.hear('umd', readTsl31Packet(umd(address, control)), ms)

  test('nothing is safe before it was heard, and which lamp means what is a setting', () => {
    const { board, states } = boardOf(UMD)
    expect(states()).toEqual(['unknown', 'unknown'])
    expect(hear(board, 1, 2, 10)).toEqual([A])
    expect(states()).toEqual(['program', 'unknown'])
    hear(board, 2, 1, 20)
    expect(states()).toEqual(['program', 'preview'])
    const swapped = { ...UMD, program: 1, preview: 2 } as TallySource
    board.configure({ ...NO_TALLY, sources: [swapped] }, [A, B], 30)
    expect(states()).toEqual(['unknown', 'unknown'])
    hear(board, 2, 1, 40)
    expect(states()).toEqual(['unknown', 'program'])
  })

  test('of several sources program wins, then what is not known', () => {
    const { board, states } = boardOf(UMD, FIVE)
    hear(board, 1, 0, 10)
    expect(states()[0]).toBe('unknown')
    const five = (control: number) =>
      board.hear('five', readTsl5(bytes(0x0a, 0, 0, 0, 0, 0, 1, 0, control, 0, 0, 0)), 20)
    five(0)
    expect(states()[0]).toBe('off')
    hear(board, 1, 2, 30)
    expect(states()[0]).toBe('program')
    five(2)
    expect(states()[0]).toBe('program')
    hear(board, 1, 0, 40)
    expect(states()[0]).toBe('preview')
    board.lose('five', 50)
    expect(states()[0]).toBe('unknown')
    // What it said before it was lost does not come back with it.
    board.hear('five', readTsl5(bytes(0x0a, 0, 0, 0, 0, 0, 9, 0, 0, 0, 0, 0)), 60)
    expect(states()[0]).toBe('unknown')
  })

  test('OSC by input and by bus', () => {
    const { board, states } = boardOf(OSC)
    const say = (path: string, value: Extract<Signal, { kind: 'message' }>['value']) =>
      board.hear('osc', [{ kind: 'message', path, value }], 10)
    say('/on/1', 1)
    say('/on/2', false)
    expect(states()).toEqual(['program', 'off'])
    say('/next', 2)
    expect(states()).toEqual(['program', 'preview'])
    say('/next', '1')
    say('/on/1', 0)
    expect(states()).toEqual(['preview', 'off'])
    for (const path of ['/on/', '/on/2/x', '/on', '/nexts', '/']) say(path, 1)
    say('/on/2', null)
    say('/on/2', 'yes')
    expect(states()).toEqual(['preview', 'off'])
  })

  test('hand and programs are sources of their own', () => {
    const { board, states } = boardOf()
    expect([states(), board.of(A)?.source]).toEqual([['off', 'off'], null])
    board.say(BY_HAND, A, 'program', 10)
    board.say(BY_HTTP, A, 'off', 20)
    expect(board.of(A)).toEqual({ state: 'program', sinceMs: 10, source: BY_HAND })
    board.say(BY_HAND, A, null, 30)
    expect(board.of(A)).toMatchObject({ state: 'off', source: BY_HTTP })
  })

  test('a desk that repeats itself and falls silent is missed; one that tells of changes alone is not', () => {
    const { board, states } = boardOf(UMD)
    const both = (ms: number, first: number) => {
      hear(board, 1, first, ms)
      hear(board, 2, 0, ms + 5)
    }
    let ms = 0
    for (; ms < 20_000; ms += 1000) both(ms, 2)
    board.settle(ms + 1000)
    expect(states()).toEqual(['program', 'off'])
    expect(board.settle(ms + 3000)).toEqual([A, B])
    expect(states()).toEqual(['unknown', 'unknown'])
    hear(board, 1, 0, ms + 4000)
    expect(states()).toEqual(['off', 'unknown'])
    // Changes alone, each of which tells of all displays.
    const { board: other, states: told } = boardOf(UMD)
    const random = seeded(5)
    ms = 0
    for (let i = 0; i < 60; i++) {
      ms += 2000 + random() * 30_000
      hear(other, 2, 0, ms)
      hear(other, 1, i % 2 ? 2 : 0, ms + 60 * random())
    }
    other.settle(ms + 3_600_000)
    expect(told()).toEqual(['program', 'off'])
  })

  test('a given time of silence counts instead of the rhythm', () => {
    const { board, states } = boardOf({ ...UMD, silentAfterSeconds: 5 } as TallySource)
    hear(board, 1, 0, 0)
    board.settle(4900)
    expect(states()[0]).toBe('off')
    board.settle(5100)
    expect(states()[0]).toBe('unknown')
  })
})

test('two sources at one port are found', () => {
  const of = (...sources: TallySource[]): TallySettings => ({ ...NO_TALLY, sources })
  const at = (source: TallySource, port: number) => ({ ...source, port }) as TallySource
  expect(clashing(of(UMD, FIVE, OSC))).toBeNull()
  expect(clashing(of(UMD, at(OSC, 4000)))).toHaveLength(2)
  // UDP and TCP do not meet.
  expect(clashing(of(UMD, at(FIVE, 4000)))).toBeNull()
})

test('a million random and damaged packets: no crash, and no state that no packet said', () => {
  const random = seeded(20_261_126)
  const pick = (n: number) => Math.floor(random() * n)
  const { board } = boardOf(UMD, { ...FIVE, kind: 'tsl5-udp' } as TallySource)
  const serial = new Tsl31Stream()
  const tcp = new Tsl5Stream()
  const good5 = bytes(0x0d, 0, 0, 0, 0, 0, 1, 0, 0xe1, 0, 3, 0, 'Cam')
  let said = 0
  const hear = (source: string, signals: Signal[], ms: number) => {
    for (const signal of signals) {
      said++
      const isRight = signal.kind !== 'message' && /^\d{1,5}(\.\d{1,5})?$/.test(signal.address)
      if (!isRight) throw new Error(JSON.stringify(signal))
    }
    board.hear(source, signals, ms)
  }
  for (let i = 0; i < 1_000_000; i++) {
    const base = random() < 0.5 ? umd(pick(127), pick(64), 'Lectern') : good5
    const packet = random() < 0.2 ? new Uint8Array(pick(40)).map(() => pick(256)) : Uint8Array.from(base)
    if (packet.length > 0) packet[pick(packet.length)] = pick(256)
    const cut = random() < 0.2 ? packet.subarray(0, pick(packet.length + 1)) : packet
    hear('umd', i % 4 === 0 ? serial.take(cut) : readTsl31Packet(cut), i)
    hear('five', i % 4 === 1 ? tcp.take(cut) : readTsl5(cut), i)
  }
  expect(said).toBeGreaterThan(10_000)
  // Only what has an address is known, and that is bounded.
  for (const source of board.sources(1_000_000)) expect(source.addresses.length).toBeLessThanOrEqual(4096)
})
