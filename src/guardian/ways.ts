/** The guardian's own ways to a device, independent of the server's links. */
import { spawn } from 'node:child_process'
import { createSocket } from 'node:dgram'
import { closeSync, constants, openSync, readSync, writeSync } from 'node:fs'
import { connect, type Socket } from 'node:net'
import type { StopOrder } from '../core/guardian/stopOrder'

export interface Way {
  send(bytes: Uint8Array): void
  close(): void
}

type Heard = (bytes: Uint8Array) => void

const TCP_AGAIN_MS = 150
const TCP_WITHIN_MS = 700
const READ_EVERY_MS = 15

export function openUdp(host: string, port: number, heard: Heard): Way {
  const socket = createSocket('udp4')
  socket.on('error', () => {})
  socket.on('message', heard)
  let open = true
  return {
    send: (bytes) => open && socket.send(bytes, port, host, () => {}),
    close: () => {
      open = false
      socket.close()
    },
  }
}

/** A connection of its own, recreated where the device ends or refuses it. */
export function openTcp(host: string, port: number, heard: Heard): Way {
  let socket: Socket | null = null
  let waiting: Uint8Array[] = []
  let closed = false
  const open = () => {
    if (closed) return
    const mine = connect({ host, port, noDelay: true })
    const late = setTimeout(() => mine.destroy(), TCP_WITHIN_MS)
    mine.on('connect', () => {
      clearTimeout(late)
      socket = mine
      for (const bytes of waiting) mine.write(bytes)
      waiting = []
    })
    mine.on('data', heard)
    mine.on('error', () => {})
    mine.on('close', () => {
      clearTimeout(late)
      socket = null
      if (!closed) setTimeout(open, TCP_AGAIN_MS)
    })
  }
  open()
  return {
    send(bytes) {
      if (socket) socket.write(bytes)
      else waiting = [...waiting.slice(-7), bytes]
    },
    close() {
      closed = true
      // What was written last still goes out.
      socket?.end()
    },
  }
}

/** A serial port beside the server's own use of it. Its speed is set again, as a device may have come back. */
export function openSerial({ path, baud, format }: StopOrder & { over: 'serial' }, heard: Heard): Way {
  let file: number | null = null
  let closed = false
  const shape = [
    format[0] === '7' ? 'cs7' : 'cs8',
    format[1] === 'N' ? '-parenb' : 'parenb',
    format[1] === 'O' ? 'parodd' : '-parodd',
    format[2] === '2' ? 'cstopb' : '-cstopb',
  ]
  const open = () => {
    try {
      file = openSync(path, constants.O_RDWR | constants.O_NOCTTY | constants.O_NONBLOCK)
      spawn('stty', ['-F', path, String(baud), 'raw', '-echo', 'clocal', ...shape], { stdio: 'ignore' }).on(
        'error',
        () => {},
      )
    } catch {
      file = null
    }
  }
  open()
  const bytes = Buffer.alloc(256)
  const look = setInterval(() => {
    if (file === null) return
    try {
      const count = readSync(file, bytes)
      if (count > 0) heard(bytes.subarray(0, count))
    } catch {
      // Nothing has arrived yet.
    }
  }, READ_EVERY_MS)
  return {
    send(packet) {
      if (file === null && !closed) open()
      try {
        if (file !== null) writeSync(file, packet)
      } catch {
        // The adapter is gone, or its buffer is full: the next round tries again.
      }
    },
    close() {
      closed = true
      clearInterval(look)
      if (file !== null) closeSync(file)
      file = null
    },
  }
}
