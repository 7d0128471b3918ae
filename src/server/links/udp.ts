/** A UDP link to one address. Packets from elsewhere are ignored. */
import { createSocket, type Socket } from 'node:dgram'
import type { Link } from './link'
import { resolveTarget } from './targets'
import { troubleText } from './troubles'

const RESOLVE_EVERY_MS = 3000
const REBIND_MS = 1000

export function openUdp(host: string, port: number): Link {
  let receive: (bytes: Uint8Array) => void = () => {}
  let trouble: (text: string | null) => void = () => {}
  let troubled = false
  let socket: Socket | null = null
  let connected = false
  let waiting: Uint8Array[] = []
  let closed = false

  const tell = (text: string | null) => {
    if (text === null && !troubled) return
    troubled = text !== null
    trouble(text)
  }
  const later = (ms: number) => {
    if (!closed) setTimeout(() => !closed && void open(), ms).unref()
  }
  const drop = () => {
    socket?.removeAllListeners()
    socket?.on('error', () => {})
    socket?.close()
    socket = null
    connected = false
  }

  const open = async (): Promise<void> => {
    let address = host
    try {
      address = await resolveTarget(host, port)
    } catch (error) {
      tell((error as Error).message)
      return later(RESOLVE_EVERY_MS)
    }
    if (closed) return
    const mine = createSocket('udp4')
    socket = mine
    mine.on('message', (message) => {
      tell(null)
      receive(message)
    })
    // A refusal is told to the next packet; the socket itself stays good.
    mine.on('error', (error: NodeJS.ErrnoException) => tell(troubleText(error)))
    // Connected, the system passes on only what comes from there, and tells when nothing listens.
    mine.connect(port, address, (error?: Error) => {
      if (closed || socket !== mine) return
      if (error) {
        tell(troubleText(error))
        drop()
        return later(REBIND_MS)
      }
      connected = true
      for (const bytes of waiting) mine.send(bytes, () => {})
      waiting = []
    })
  }
  void open()

  return {
    send(bytes) {
      if (closed) return
      // Only the newest that were asked for while the name was looked up.
      if (!connected || !socket) waiting = [...waiting.slice(-3), bytes]
      else socket.send(bytes, (error) => error && !closed && tell(troubleText(error)))
    },
    onReceive(listener) {
      receive = listener
    },
    onTrouble(listener) {
      trouble = listener
    },
    onOpen() {},
    renew() {},
    close() {
      closed = true
      drop()
    },
  }
}
