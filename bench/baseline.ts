/** The bare relay seen from the bench: how long one message takes through it. */
import { fork } from 'node:child_process'
import { createSocket } from 'node:dgram'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import WebSocket from 'ws'

export interface Baseline {
  /** Of the bare page. */
  readonly address: string
  /** Sends one message and resolves with the ms until its packet is here. */
  once(): Promise<number>
  /** Sends so many at once; @returns the ms of each */
  burst(count: number): Promise<number[]>
  /** Calls back on each packet. @param up it is of a release */
  onPacket: (atMs: number, up: boolean) => void
  close(): void
}

export async function startBaseline(): Promise<Baseline> {
  const udp = createSocket('udp4')
  await new Promise<void>((resolve) => udp.bind(0, '127.0.0.1', resolve))
  const { port } = udp.address() as AddressInfo
  const child = fork(join(__dirname, 'bareRelay.ts'), [String(port)], { execArgv: ['--import', 'tsx'] })
  const relayPort = await new Promise<number>((resolve) => {
    child.on('message', (message) => resolve((message as { port: number }).port))
  })
  const socket = new WebSocket(`ws://127.0.0.1:${relayPort}`)
  await new Promise((resolve) => socket.once('open', resolve))
  const baseline: Baseline = {
    address: `http://127.0.0.1:${relayPort}/`,
    onPacket: () => {},
    async once() {
      return (await baseline.burst(1))[0]!
    },
    burst(count) {
      const fromMs: number[] = []
      const took: number[] = []
      return new Promise((resolve) => {
        baseline.onPacket = (atMs) => {
          took.push(atMs - fromMs[took.length]!)
          if (took.length === count) resolve(took)
        }
        for (let i = 0; i < count; i++) {
          fromMs.push(performance.now())
          socket.send('x')
        }
      })
    },
    close() {
      socket.terminate()
      child.kill()
      udp.close()
    },
  }
  udp.on('message', (bytes) => baseline.onPacket(performance.now(), bytes[1] === 1))
  return baseline
}
