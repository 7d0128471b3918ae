/**
 * A UDP link to one address. It begins with a connected socket, for which the system tells when nothing listens
 * there. Where nothing is heard on it, the camera may answer from another port, or to a fixed one of ours: then a
 * socket takes its place that hears all that comes from the camera's address.
 */
import { createSocket, type Socket } from 'node:dgram'
import type { Link } from './link'
import { resolveTarget } from './targets'
import { troubleText } from './troubles'
import { joinWideUdp, type WideUdp } from './wideUdp'

/** Some VISCA cameras answer to this port of the controller, whatever port was asked from. */
export const VISCA_FIXED_PORT = 52381
const RESOLVE_EVERY_MS = 3000
const REBIND_MS = 1000
/** Nothing heard on a connected socket for this long after something was sent. */
const LISTEN_WIDELY_AFTER_MS = 700
/** Nothing heard on the other one either. */
const CONNECT_AGAIN_AFTER_MS = 3000

type Way = { send(bytes: Uint8Array, sent: (error: Error | null) => void): void; close(): void }

/** @param fixedPort of this computer to which some cameras answer; null for none */
export function openUdp(host: string, port: number, fixedPort: number | null = null): Link {
  let receive: (bytes: Uint8Array, elsewhere: boolean) => void = () => {}
  let trouble: (text: string | null) => void = () => {}
  let troubled = false
  let way: Way | null = null
  let waiting: Uint8Array[] = []
  let closed = false
  let heard = false
  let wide = false
  let turn: ReturnType<typeof setTimeout> | null = null

  const tell = (text: string | null) => {
    if (text === null && !troubled) return
    troubled = text !== null
    trouble(text)
  }
  const later = (ms: number) => {
    if (!closed) setTimeout(() => !closed && void open(), ms).unref()
  }
  const drop = () => {
    if (turn) clearTimeout(turn)
    turn = null
    way?.close()
    way = null
  }
  const take = (bytes: Uint8Array, elsewhere: boolean) => {
    heard = true
    tell(null)
    receive(bytes, elsewhere)
  }
  const failed = (error: Error | null) => {
    if (error && !closed) tell(troubleText(error as NodeJS.ErrnoException))
  }

  const connected = (address: string): Promise<Way> =>
    new Promise((resolve, reject) => {
      const socket: Socket = createSocket('udp4')
      socket.on('message', (bytes) => take(bytes, false))
      // A refusal is told to the next packet; the socket itself stays good.
      socket.on('error', (error: NodeJS.ErrnoException) => tell(troubleText(error)))
      const close = () => {
        socket.removeAllListeners()
        socket.on('error', () => {})
        socket.close()
      }
      socket.connect(port, address, (error?: Error) => {
        if (!error) return resolve({ send: (bytes, sent) => socket.send(bytes, sent), close })
        close()
        reject(error)
      })
    })
  const widely = (address: string): Promise<WideUdp> =>
    joinWideUdp(address, port, fixedPort, (bytes, from) => take(bytes, from !== port))

  const open = async (): Promise<void> => {
    let address = host
    try {
      address = await resolveTarget(host, port)
    } catch (error) {
      tell((error as Error).message)
      return later(RESOLVE_EVERY_MS)
    }
    if (closed) return
    try {
      const mine = await (wide ? widely(address) : connected(address))
      if (closed) return mine.close()
      way = mine
      for (const bytes of waiting) mine.send(bytes, failed)
      waiting = []
    } catch (error) {
      failed(error as Error)
      return later(REBIND_MS)
    }
    heard = false
    const turnAfter = wide ? CONNECT_AGAIN_AFTER_MS : LISTEN_WIDELY_AFTER_MS
    const look = () => {
      if (closed || heard) return
      // Where the system says that nothing listens there is nothing to hear.
      if (wide || !troubled) {
        wide = !wide
        drop()
        void open()
      } else turn = setTimeout(look, turnAfter)
    }
    turn = setTimeout(look, turnAfter)
    turn.unref()
  }
  void open()

  return {
    send(bytes) {
      if (closed) return
      // Only the newest that were asked for while the name was looked up.
      if (way) way.send(bytes, failed)
      else waiting = [...waiting.slice(-3), bytes]
    },
    onReceive(listener) {
      receive = listener
    },
    onTrouble(listener) {
      trouble = listener
    },
    onOpen() {},
    renew() {
      // It was heard before and is silent now: as at the beginning.
      if (!heard || closed) return
      drop()
      wide = false
      void open()
    },
    close() {
      closed = true
      drop()
    },
  }
}
