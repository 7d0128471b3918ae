/**
 * A million random and mutated inputs for all that reads from outside: codecs, sessions, documents,
 * files. Nothing may crash, hang or grow. Told: how long it took, the slowest input, the memory it left.
 */
import * as v from 'valibot'
import wharf from '../demo/wharf-lens.json'
import { CommandSet } from '../src/core/commands/commandSet'
import { readTemplate } from '../src/core/commands/template'
import { camerasFromCsv } from '../src/core/formats/cameraCsv'
import { FileRefused, parseVenueJson } from '../src/core/formats/venueFile'
import { decodePictureFrame } from '../src/core/live/pictureFrame'
import { readProbeMatches } from '../src/core/onvif/discovery'
import { readNodes, readProfiles, readStatus } from '../src/core/onvif/messages'
import { envelope, faultOf, OnvifFault, parseEnvelope } from '../src/core/onvif/soap'
import { seeded } from '../src/core/seeded'
import { ViscaChain } from '../src/core/visca/chain'
import { decodeCommand, encodeCommand } from '../src/core/visca/commands'
import { FramedSession } from '../src/core/visca/framedSession'
import { decodeAnswer, decodeInquiry } from '../src/core/visca/inquiries'
import { decodeDatagram, encodeDatagram, readControl } from '../src/core/visca/ip'
import { RawSession } from '../src/core/visca/rawSession'
import { decodeReply } from '../src/core/visca/replies'
import { readVenueZip, writeVenueZip } from '../src/server/venues/zip'
import { JpegStream } from '../src/server/video/jpegStream'
import type { Figure } from './stats'

const TOTAL = Number(process.env.BENCH_FUZZ ?? 1_000_000)

type Random = () => number

const bytesOf = (random: Random, most: number) =>
  Uint8Array.from({ length: Math.floor(random() * most) }, () => Math.floor(random() * 256))

function mutated(good: Uint8Array, random: Random): Uint8Array {
  const bytes = Uint8Array.from(
    good.subarray(0, random() < 0.1 ? Math.floor(random() * good.length) : good.length),
  )
  for (let n = 0; n <= random() * 3 && bytes.length > 0; n++)
    bytes[Math.floor(random() * bytes.length)] = Math.floor(random() * 256)
  return bytes
}

const text = (bytes: Uint8Array) => new TextDecoder().decode(bytes)
const encoder = new TextEncoder()

/** Runs it and lets pass what it is allowed to throw. */
function allow(kinds: readonly (new (...args: never[]) => Error)[], work: () => void): void {
  try {
    work()
  } catch (error) {
    if (!kinds.some((kind) => error instanceof kind)) throw error
  }
}

const packet = encodeCommand({ kind: 'ptAbsolute', panStep: 5, tiltStep: 5, pan: 100, tilt: -100 })
const reply = Uint8Array.of(0x90, 0x50, 0, 1, 2, 3, 0, 4, 5, 6, 0xff)
const framedReply = encodeDatagram({ type: 'reply', sequence: 3, payload: reply })
const status = encoder.encode(
  envelope(
    '<tptz:GetStatusResponse><tptz:PTZStatus><tt:Position><tt:PanTilt x="0.1" y="0.2"/><tt:Zoom x="0"/></tt:Position></tptz:PTZStatus></tptz:GetStatusResponse>',
  ),
)
const csv = encoder.encode(
  'number,name,kind,host,port\n1,"A ""b""",visca-udp,10.0.0.1,52381\n2,B,onvif,c,80\n',
)
const venueJson = encoder.encode(
  JSON.stringify({
    format: 'steady-heron/venue',
    version: 1,
    venue: { id: '00000000-0000-4000-8000-000000000001', name: 'V' },
    cameras: [],
    commandSets: [wharf],
    events: [],
  }),
)
const setJson = encoder.encode(JSON.stringify(wharf))

function readers(random: Random): [share: number, read: (i: number) => void][] {
  const framed = new FramedSession({ nonce: 1 })
  const raw = new RawSession({})
  const chain = new ViscaChain(9600)
  const session = chain.session(1)
  const jpegs = new JpegStream()
  const pick = (good: Uint8Array, most: number) =>
    random() < 0.4 ? bytesOf(random, most) : mutated(good, random)
  return [
    [
      0.5,
      () => {
        const bytes = pick(packet, 40)
        decodeCommand(bytes)
        decodeReply(bytes)
        decodeInquiry(bytes)
        decodeAnswer('ptPosition', bytes)
        decodeAnswer('version', bytes)
        const datagram = decodeDatagram(pick(framedReply, 40))
        if (datagram) readControl(datagram.payload)
        decodePictureFrame(bytes.buffer as ArrayBuffer)
      },
    ],
    [
      0.3,
      (i) => {
        for (const s of [framed, raw]) {
          s.receive(pick(s === framed ? framedReply : reply, 30), i)
          if (i % 7 === 0) s.ask('ptPosition', i)
          if (i % 50 === 0) s.send({ kind: 'ptHome' }, { lanes: ['panTilt'], urgency: 'queued' }, i)
          s.advance(i)
          s.takeDatagrams()
          s.takeEvents()
        }
        chain.receive(pick(reply, 30), i)
        chain.advance(i)
        chain.next(i)
        session.takeEvents()
        for (const jpeg of jpegs.push(Buffer.from(pick(reply, 60))))
          if (jpeg.length === 0) throw new Error('empty')
      },
    ],
    [
      0.12,
      () => {
        const xml = text(pick(status, 300))
        allow([OnvifFault], () => {
          const message = parseEnvelope(xml)
          faultOf(message)
          readStatus(message)
          readProfiles(message)
          readNodes(message)
        })
        readProbeMatches(xml)
        readTemplate('zoom={zoom};focus={focus:x4}', xml)
      },
    ],
    [
      0.08,
      () => {
        allow([FileRefused], () => camerasFromCsv(text(pick(csv, 200))))
        allow([FileRefused], () => parseVenueJson(text(pick(venueJson, 200))))
        allow([SyntaxError], () => v.safeParse(CommandSet, JSON.parse(text(pick(setJson, 200)))))
      },
    ],
  ]
}

export async function benchFuzz(): Promise<Figure[]> {
  const random = seeded(77)
  const zip = await writeVenueZip(
    { file: parseVenueJson(text(venueJson)), pictures: new Map() },
    '{"title":"a schema"}',
  )
  const zips = Math.min(10_000, TOTAL / 100)
  const all = readers(random)
  const from = performance.now()
  const before = process.memoryUsage().rss
  let slowestMs = 0
  for (let i = 0; i < TOTAL - zips; i++) {
    let at = random()
    const [, read] =
      all.find(([share]) => {
        at -= share
        return at < 0
      }) ?? all[0]!
    const start = performance.now()
    read(i)
    slowestMs = Math.max(slowestMs, performance.now() - start)
  }
  for (let i = 0; i < zips; i++) {
    const start = performance.now()
    await readVenueZip(Buffer.from(random() < 0.3 ? bytesOf(random, 400) : mutated(zip, random))).catch(
      (error) => {
        if (!(error instanceof FileRefused)) throw error
      },
    )
    slowestMs = Math.max(slowestMs, performance.now() - start)
  }
  const grown = (process.memoryUsage().rss - before) / 1024 / 1024
  return [
    {
      name: `${TOTAL} random and mutated inputs: all of them`,
      value: (performance.now() - from) / 1000,
      unit: 's',
      aim: null,
    },
    { name: 'random and mutated inputs: slowest', value: slowestMs, unit: 'ms', aim: 1000 },
    { name: 'random and mutated inputs: memory grown by', value: grown, unit: 'MB', aim: 200 },
  ]
}
