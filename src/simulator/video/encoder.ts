/** Video of a stand-in: drawn pictures through ffmpeg into H.264, only while somebody watches. */
import { type ChildProcess, spawn } from 'node:child_process'
import { setPriority } from 'node:os'
import { NAL_DELIMITER, NAL_IDR, NAL_SLICE, NalReader, nalType } from './h264'

/** The units of one picture, and when it was, ms. */
export interface AccessUnit {
  units: Buffer[]
  key: boolean
  atMs: number
}

export class Encoder {
  private child: ChildProcess | null = null
  private timer: ReturnType<typeof setInterval> | null = null
  private readonly watchers = new Set<(unit: AccessUnit) => void>()
  private drawing = false
  private pending: Buffer[] = []

  constructor(
    private readonly draw: () => Promise<Uint8Array>,
    private readonly perSec: number,
  ) {}

  watch(listener: (unit: AccessUnit) => void): () => void {
    this.watchers.add(listener)
    if (!this.child) this.start()
    return () => {
      this.watchers.delete(listener)
      if (this.watchers.size === 0) this.stop()
    }
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer)
    this.timer = null
    this.child?.kill('SIGKILL')
    this.child = null
  }

  private start(): void {
    const rate = String(this.perSec)
    const args = [
      ...['-loglevel', 'error', '-probesize', '32', '-fflags', 'nobuffer'],
      ...['-f', 'mjpeg', '-framerate', rate, '-i', 'pipe:0'],
      ...['-c:v', 'libx264', '-preset', 'ultrafast', '-tune', 'zerolatency', '-profile:v', 'baseline'],
      ...['-pix_fmt', 'yuv420p', '-g', rate, '-bf', '0', '-crf', '27', '-threads', '1'],
      ...['-x264-params', 'repeat-headers=1:aud=1', '-f', 'h264', 'pipe:1'],
    ]
    const child = spawn('ffmpeg', args, { stdio: ['pipe', 'pipe', 'ignore'] })
    child.on('error', () => {})
    child.stdin.on('error', () => {})
    if (child.pid) setPriority(child.pid, 15)
    const reader = new NalReader()
    this.pending = []
    child.stdout.on('data', (piece: Buffer) => {
      for (const unit of reader.push(piece)) this.collect(unit)
    })
    child.on('close', () => {
      if (this.child === child) this.stop()
    })
    this.child = child
    this.timer = setInterval(() => void this.feed(), 1000 / this.perSec)
  }

  private async feed(): Promise<void> {
    const stdin = this.child?.stdin
    if (this.drawing || !stdin || stdin.writableLength > 0) return
    this.drawing = true
    const jpeg = await this.draw()
    this.drawing = false
    if (!stdin.destroyed) stdin.write(jpeg)
  }

  /** A delimiter begins the next picture: what came before it is one. */
  private collect(unit: Buffer): void {
    if (nalType(unit) !== NAL_DELIMITER) {
      this.pending.push(unit)
      return
    }
    const units = this.pending
    this.pending = []
    const whole = units.some((u) => nalType(u) === NAL_IDR || nalType(u) === NAL_SLICE)
    if (!whole) return
    const key = units.some((u) => nalType(u) === NAL_IDR)
    for (const watcher of this.watchers) watcher({ units, key, atMs: performance.now() })
  }
}
