/** Such a VISCA camera at the end of a serial line of its own, which socat makes. */
import { type ChildProcess, spawn } from 'node:child_process'
import { existsSync } from 'node:fs'
import type { FieldVisca } from './fieldVisca'

const POLL_MS = 10
/** Bytes of a line take their time: ten bits each at 9600. */
const MS_PER_BYTE = 10 / 9.6
const OPENS_WITHIN_MS = 5000

export class FieldSerial {
  private line: ChildProcess | null = null
  private timer: ReturnType<typeof setInterval> | null = null
  private held: number[] = []
  private outFreeAtMs = 0

  constructor(
    private readonly camera: FieldVisca,
    /** Set by a switch: then no address set ever returns. */
    private readonly fixedAddress: number | null = null,
  ) {
    camera.address = fixedAddress ?? 1
  }

  /** @param path where the near end of the line is to be */
  async listen(path: string): Promise<void> {
    const line = spawn('socat', [`pty,raw,echo=0,mode=666,link=${path}`, 'stdio'], {
      stdio: ['pipe', 'pipe', 'ignore'],
    })
    this.line = line
    line.stdin.on('error', () => {})
    line.stdout.on('data', (bytes: Buffer) => this.take([...bytes]))
    for (let ms = 0; !existsSync(path); ms += 20) {
      if (ms > OPENS_WITHIN_MS) throw new Error('socat makes no serial line')
      await new Promise((resolve) => setTimeout(resolve, 20))
    }
    this.timer = setInterval(() => {
      for (const { bytes } of this.camera.poll(performance.now())) this.send(bytes)
    }, POLL_MS)
  }

  close(): void {
    if (this.timer) clearInterval(this.timer)
    this.line?.kill('SIGKILL')
  }

  private take(bytes: readonly number[]): void {
    this.held.push(...bytes)
    for (let end = this.held.indexOf(0xff); end >= 0; end = this.held.indexOf(0xff)) {
      const packet = this.held.splice(0, end + 1)
      // It is read when its last byte has come.
      setTimeout(() => this.packet(packet), packet.length * MS_PER_BYTE)
    }
  }

  private packet(packet: number[]): void {
    const now = performance.now()
    if (packet[0] === 0x88) {
      if (packet[1] === 0x30 && this.fixedAddress === null) this.send([0x88, 0x30, 0x02, 0xff])
      if (packet[1] !== 0x01) return
      this.camera.receive([0x81, 0x01, 0x00, 0x01, 0xff], 0, now)
      this.send(packet)
      return
    }
    if ((packet[0]! & 0x07) !== this.camera.address) return
    for (const { bytes } of this.camera.receive(packet, 0, now)) this.send(bytes)
  }

  private send(bytes: readonly number[]): void {
    const now = performance.now()
    this.outFreeAtMs = Math.max(now, this.outFreeAtMs) + bytes.length * MS_PER_BYTE
    setTimeout(() => this.line?.stdin?.write(Uint8Array.from(bytes)), this.outFreeAtMs - now)
  }
}
