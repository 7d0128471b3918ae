/**
 * Finds VISCA cameras in a range of addresses, on the three usual ports. At a bounded rate, and without
 * disturbing cameras that others control: only their version is asked, under number 0, which is older
 * than any in use. What is odd about the answer is told with it.
 */
import { createSocket, type Socket } from 'node:dgram'
import { connect } from 'node:net'
import { KINDS } from '../../core/cameras/kinds'
import { deviceWords } from '../../core/heads/version'
import { decodeAnswer, encodeInquiry } from '../../core/visca/inquiries'
import { decodeDatagram, encodeDatagram } from '../../core/visca/ip'
import { isPacket } from '../../core/visca/packet'
import type { Quirk } from '../../core/visca/quirks'
import { decodeReply } from '../../core/visca/replies'
import { PacketStream } from '../../core/visca/stream'
import { VISCA_FIXED_PORT } from '../links/udp'

export interface FoundVisca {
  kind: 'visca-udp' | 'visca-udp-raw' | 'visca-tcp'
  host: string
  port: number
  device: string | null
  quirks: Quirk[]
}

/** Datagrams in a burst, and the time between bursts: at most 600 a second. */
const BURST = 12
const BURST_EVERY_MS = 20
const ROUNDS = 2
const LATE_MS = 500
const TCP_AT_ONCE = 80
const TCP_CONNECT_MS = 700
const TCP_ANSWER_MS = 500
const ASK = encodeInquiry('version')
const FRAMED_ASK = encodeDatagram({ type: 'inquiry', sequence: 0, payload: ASK })

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms))

function deviceIn(packet: Uint8Array): string | null {
  const answer = decodeAnswer('version', packet)
  if (answer?.kind !== 'version') return null
  return deviceWords(answer)
}

interface Answered {
  device: string | null
  quirks: Quirk[]
}

/** What an answer to the version shows. */
function answerIn(packet: Uint8Array): Answered {
  const quirks: Quirk[] = []
  if (packet[0] !== 0x90) quirks.push('otherAddress')
  if (packet[1]! > 0x50 && packet[1]! < 0x60) quirks.push('answersInSocket')
  return { device: deviceIn(packet), quirks }
}

const rawAnswer = (bytes: Uint8Array): Answered | null =>
  isPacket(bytes) && decodeReply(bytes) !== null ? answerIn(bytes) : null

function framedAnswer(bytes: Uint8Array): Answered | null {
  const datagram = decodeDatagram(bytes)
  if (!datagram) return null
  // "Out of order" is an answer too: it is a camera that somebody controls.
  if (datagram.type !== 'reply') return { device: null, quirks: [] }
  const answer = answerIn(datagram.payload)
  if (answer.device === null) return null
  return datagram.sequence === 0 ? answer : { ...answer, quirks: [...answer.quirks, 'unnumbered'] }
}

async function overUdp(
  hosts: readonly string[],
  signal: AbortSignal,
  found: (camera: FoundVisca) => void,
  progress: (done: number) => void,
): Promise<void> {
  const [framedPort, rawPort] = [KINDS['visca-udp'].usualPort!, KINDS['visca-udp-raw'].usualPort!]
  const seen = new Set<string>()
  const asked = new Set(hosts)
  const open = (port: number, kind: 'visca-udp' | 'visca-udp-raw'): Promise<Socket> => {
    const socket = createSocket('udp4')
    socket.on('error', () => {})
    socket.on('message', (bytes, peer) => {
      const key = `${kind} ${peer.address}`
      if (seen.has(key) || !asked.has(peer.address)) return
      const answer = kind === 'visca-udp' ? framedAnswer(bytes) : rawAnswer(bytes)
      if (!answer) return
      seen.add(key)
      const quirks: Quirk[] = peer.port === port ? answer.quirks : [...answer.quirks, 'otherPort']
      found({ kind, host: peer.address, port, device: answer.device, quirks })
    })
    const bind = (to: number) =>
      new Promise<void>((resolve, reject) => {
        socket.once('error', reject)
        socket.bind(to, resolve)
      })
    // Some answer to this port of whoever asks. Where it is taken, they are found by their other ways.
    return bind(kind === 'visca-udp' ? VISCA_FIXED_PORT : 0)
      .catch(() => bind(0))
      .then(() => socket)
  }
  const [framed, raw] = await Promise.all([open(framedPort, 'visca-udp'), open(rawPort, 'visca-udp-raw')])
  for (let round = 0; round < ROUNDS && !signal.aborted; round++) {
    for (let i = 0; i < hosts.length && !signal.aborted; i += BURST / 2) {
      for (const host of hosts.slice(i, i + BURST / 2)) {
        framed!.send(FRAMED_ASK, framedPort, host, () => {})
        raw!.send(ASK, rawPort, host, () => {})
      }
      progress((round * hosts.length + i) / (ROUNDS * hosts.length))
      await pause(BURST_EVERY_MS)
    }
  }
  if (!signal.aborted) await pause(LATE_MS)
  framed!.close()
  raw!.close()
}

function overTcp(host: string, port: number): Promise<FoundVisca | null> {
  return new Promise((resolve) => {
    const socket = connect({ host, port, noDelay: true })
    const stream = new PacketStream()
    const end = (result: FoundVisca | null) => {
      clearTimeout(timer)
      socket.destroy()
      resolve(result)
    }
    let timer = setTimeout(() => end(null), TCP_CONNECT_MS)
    socket.on('error', () => end(null))
    socket.on('connect', () => {
      clearTimeout(timer)
      timer = setTimeout(() => end(null), TCP_ANSWER_MS)
      socket.write(ASK)
    })
    socket.on('data', (bytes) => {
      for (const packet of stream.push(bytes)) {
        if (decodeReply(packet)) end({ kind: 'visca-tcp', host, port, ...answerIn(packet) })
      }
    })
  })
}

/** @param progress 0..1 */
export async function findVisca(
  hosts: readonly string[],
  signal: AbortSignal,
  found: (camera: FoundVisca) => void,
  progress: (share: number) => void,
): Promise<void> {
  const shares = { udp: 0, tcp: 0 }
  const tell = () => progress((shares.udp + shares.tcp) / 2)
  const queue = [...hosts]
  const worker = async () => {
    for (let host = queue.shift(); host !== undefined && !signal.aborted; host = queue.shift()) {
      const result = await overTcp(host, KINDS['visca-tcp'].usualPort!)
      if (result) found(result)
      shares.tcp = 1 - queue.length / hosts.length
      tell()
    }
  }
  await Promise.all([
    overUdp(hosts, signal, found, (share) => {
      shares.udp = share
      tell()
    }),
    ...Array.from({ length: TCP_AT_ONCE }, worker),
  ])
}
