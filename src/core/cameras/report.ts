/** The camera report: what went over the wire, what was learnt of the camera, how its link did. */
import * as v from 'valibot'
import { Health } from '../facts/health'

const Packet = v.object({
  atMs: v.number(),
  way: v.picklist(['out', 'in']),
  raw: v.string(),
  words: v.string(),
})
export type ReportPacket = v.InferOutput<typeof Packet>

export const CameraReport = v.object({
  camera: v.object({
    number: v.number(),
    name: v.string(),
    kind: v.string(),
    address: v.string(),
    headProfile: v.string(),
    headConfirmed: v.boolean(),
  }),
  health: Health,
  /** In sentences. */
  learnt: v.array(v.string()),
  quirks: v.array(v.string()),
  /** Of the last hour. */
  history: v.array(
    v.object({
      atMs: v.number(),
      roundTripMs: v.nullable(v.number()),
      loss: v.number(),
      silent: v.boolean(),
    }),
  ),
  /** Oldest first. */
  packets: v.array(Packet),
  failures: v.array(v.object({ atMs: v.number(), why: v.string(), packets: v.array(Packet) })),
})
export type CameraReport = v.InferOutput<typeof CameraReport>

const time = (atMs: number) => new Date(atMs).toISOString().slice(11, 23)
const lines = (packets: readonly ReportPacket[]) =>
  packets.map(
    ({ atMs, way, raw, words }) => `${time(atMs)} ${way === 'out' ? '->' : '<-'} ${words}   [${raw}]`,
  )

/** As a text to send to whoever helps. */
export function reportText(report: CameraReport, madeAt: Date): string {
  const { camera, health, learnt, quirks, packets, failures } = report
  return [
    `Camera report of ${camera.number} ${camera.name}, ${madeAt.toISOString()}`,
    `${camera.kind}, ${camera.address}`,
    `Head profile ${camera.headProfile}, ${camera.headConfirmed ? 'confirmed' : 'not confirmed'}`,
    `Link: ${health.state}, round trip ${health.roundTripMs ?? '?'} ms, loss ${(health.loss * 100).toFixed(1)} %, came back ${health.reconnects} times`,
    '',
    'Learnt of it:',
    ...(learnt.length > 0 ? learnt : ['nothing yet']),
    '',
    'Odd about it:',
    ...(quirks.length > 0 ? quirks : ['nothing that was met']),
    ...failures.flatMap((f) => ['', `Before it failed at ${time(f.atMs)} (${f.why}):`, ...lines(f.packets)]),
    '',
    `The last ${packets.length} packets, times in UTC:`,
    ...lines(packets),
    '',
  ].join('\n')
}
