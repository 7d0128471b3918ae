/** The bare relay seen from the bench: how long one message takes through it. */
import { fork } from 'node:child_process'
import { createSocket } from 'node:dgram'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import WebSocket from 'ws'

export interface Baseline {
  /** Sends one message and resolves with the ms until its packet is here. */
  once(): Promise<number>
  close(): void
}

export async function startBaseline(): Promise<Baseline> {
  const udp = createSocket('udp4')
  let arrived: (atMs: number) => void = () => {}
  udp.on('message', () => arrived(performance.now()))
  await new Promise<void>((resolve) => udp.bind(0, '127.0.0.1', resolve))
  const { port } = udp.address() as AddressInfo
  const child = fork(join(__dirname, 'bareRelay.ts'), [String(port)], { execArgv: ['--import', 'tsx'] })
  const relayPort = await new Promise<number>((resolve) => {
    child.on('message', (message) => resolve((message as { port: number }).port))
  })
  const socket = new WebSocket(`ws://127.0.0.1:${relayPort}`)
  await new Promise((resolve) => socket.once('open', resolve))
  return {
    once() {
      const fromMs = performance.now()
      return new Promise((resolve) => {
        arrived = (atMs) => resolve(atMs - fromMs)
        socket.send('x')
      })
    },
    close() {
      socket.terminate()
      child.kill()
      udp.close()
    },
  }
}
