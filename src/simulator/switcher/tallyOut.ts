/** Sends the switcher's tally to whoever is to have it: at each change, and again and again. */
import { createSocket, type Socket } from 'node:dgram'
import { type Socket as Connection, connect } from 'node:net'
import { type Display, umd5, umd31, wrapped } from './tslOut'

export type Output = { kind: 'tsl31-udp' | 'tsl5-udp' | 'tsl5-tcp'; host: string; port: number }

const REPEAT_MS = 500
const CONNECT_AGAIN_MS = 500

export class TallyOut {
  private readonly socket: Socket = createSocket('udp4')
  private readonly connections = new Map<Output, Connection>()
  private readonly timers = new Set<ReturnType<typeof setInterval>>()
  private outputs: readonly Output[] = []
  /** Tests let it fall silent. */
  silent = false

  constructor(private readonly displays: () => readonly Display[]) {
    this.socket.on('error', () => {})
    this.socket.unref()
    this.timers.add(setInterval(() => this.send(), REPEAT_MS))
  }

  to(outputs: readonly Output[]): void {
    for (const connection of this.connections.values()) connection.destroy()
    this.connections.clear()
    this.outputs = outputs
    for (const output of outputs) if (output.kind === 'tsl5-tcp') this.connect(output)
    this.send()
  }

  send(): void {
    if (this.silent) return
    const displays = this.displays()
    for (const output of this.outputs) {
      const { kind, host, port } = output
      if (kind === 'tsl31-udp') for (const d of displays) this.socket.send(umd31(d), port, host)
      else if (kind === 'tsl5-udp') this.socket.send(umd5(displays), port, host)
      else this.connections.get(output)?.write(wrapped(umd5(displays)))
    }
  }

  close(): void {
    for (const timer of this.timers) clearInterval(timer)
    this.to([])
    this.socket.close()
  }

  private connect(output: Output): void {
    const connection = connect({ host: output.host, port: output.port, noDelay: true })
    this.connections.set(output, connection)
    connection.on('error', () => {})
    connection.on('connect', () => this.send())
    connection.on('close', () => {
      if (!this.outputs.includes(output)) return
      setTimeout(() => this.outputs.includes(output) && this.connect(output), CONNECT_AGAIN_MS).unref()
    })
  }
}
