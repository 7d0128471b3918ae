/** Sends what stops a device, again and again until it has answered or somebody calls it off. */
import type { Movable, StopOrder, StopPacket } from '../core/guardian/stopOrder'
import { Answers } from './answers'
import { httpStop } from './httpStop'
import type { StopRun } from './run'
import { openSerial, openTcp, openUdp, type Way } from './ways'

/** Everything is sent at least this often, whatever was answered: an answer may belong to an older packet. */
const LEAST_ROUNDS = 2
const ROUND_EVERY_MS = 100
/** Later rounds come slower, ms. */
const LATER_EVERY_MS = 400
const QUICK_ROUNDS = 12

function packetStop(
  packets: readonly StopPacket[],
  gapMs: number,
  open: (heard: (b: Uint8Array) => void) => Way,
): StopRun {
  const answers = new Answers(packets)
  const way = open((bytes) => answers.hear(bytes))
  let ended = false
  let rounds = 0
  let timer: ReturnType<typeof setTimeout> | null = null
  const done = () => rounds >= LEAST_ROUNDS && answers.all
  const send = (i: number) => {
    if (ended || done()) return
    const packet = packets[i]
    if (packet) {
      way.send(Buffer.from(packet.hex, 'hex'))
      timer = setTimeout(() => send(i + 1), gapMs)
      return
    }
    rounds += 1
    timer = setTimeout(() => send(0), rounds < QUICK_ROUNDS ? ROUND_EVERY_MS : LATER_EVERY_MS)
  }
  send(0)
  return {
    get answered() {
      return done()
    },
    end() {
      if (ended) return
      ended = true
      if (timer) clearTimeout(timer)
      way.close()
    },
  }
}

function oneStop(order: StopOrder): StopRun {
  switch (order.over) {
    case 'udp':
      return packetStop(order.packets, order.gapMs, (heard) => openUdp(order.host, order.port, heard))
    case 'tcp':
      return packetStop(order.packets, order.gapMs, (heard) => openTcp(order.host, order.port, heard))
    case 'serial':
      return packetStop(order.packets, order.gapMs, (heard) => openSerial(order, heard))
    case 'http':
      return httpStop(order.groups, order.login)
  }
}

export function startStop({ stops }: Movable): StopRun {
  const runs = stops.map(oneStop)
  return {
    get answered() {
      return runs.every((run) => run.answered)
    },
    end() {
      for (const run of runs) run.end()
    },
  }
}
