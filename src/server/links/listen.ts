/** Ports of this computer at which others tell us something. A port that is taken is tried again. */
import { createSocket } from 'node:dgram'
import { createServer, type Socket } from 'node:net'

export interface Listening {
  close(): void
}

export interface Listener {
  /** @param from one for each sender of datagrams, or each connection */
  receive(bytes: Uint8Array, from: string): void
  /** TCP: a connection has ended. */
  ended?(from: string): void
  /** Why nothing can be heard, as a sentence; null when it is over. */
  trouble(text: string | null): void
}

const AGAIN_MS = 1000
/** Connections of one port: a switcher needs one. */
const MOST_CONNECTIONS = 16
/** A connection whose other end was switched off is noticed after this, ms. */
const KEEP_ALIVE_MS = 3000

const words = (error: NodeJS.ErrnoException, port: number) =>
  error.code === 'EADDRINUSE'
    ? `Port ${port} is used by another program. End that one, or choose another port.`
    : error.code === 'EACCES'
      ? `This computer does not allow the use of port ${port}. Choose one above 1024.`
      : `Port ${port} cannot be used: ${error.message}`

/** @param begin starts once; it calls `failed` when it could not, or no longer can, listen */
function keepTrying(
  begin: (failed: (error: NodeJS.ErrnoException) => void) => () => void,
  port: number,
  listener: Listener,
): Listening {
  let end = () => {}
  let again: ReturnType<typeof setTimeout> | null = null
  const start = () => {
    again = null
    end = begin((error) => {
      end()
      listener.trouble(words(error, port))
      again ??= setTimeout(start, AGAIN_MS)
    })
  }
  start()
  return {
    close() {
      if (again) clearTimeout(again)
      end()
    },
  }
}

export function listenUdp(port: number, listener: Listener): Listening {
  return keepTrying(
    (failed) => {
      const socket = createSocket('udp4')
      let open = true
      socket.on('error', failed)
      socket.on('listening', () => listener.trouble(null))
      socket.on('message', (bytes, { address, port: from }) => listener.receive(bytes, `${address}:${from}`))
      socket.bind(port)
      return () => {
        if (open)
          socket
            .removeAllListeners()
            .on('error', () => {})
            .close()
        open = false
      }
    },
    port,
    listener,
  )
}

export function listenTcp(port: number, listener: Listener): Listening {
  return keepTrying(
    (failed) => {
      const sockets = new Set<Socket>()
      let count = 0
      const server = createServer(
        { keepAlive: true, keepAliveInitialDelay: KEEP_ALIVE_MS, noDelay: true },
        (socket) => {
          const from = String(++count)
          sockets.add(socket)
          socket.on('data', (bytes) => listener.receive(bytes, from))
          socket.on('error', () => {})
          socket.on('close', () => {
            sockets.delete(socket)
            listener.ended?.(from)
          })
        },
      )
      server.maxConnections = MOST_CONNECTIONS
      server.on('error', failed)
      server.listen(port, () => listener.trouble(null))
      return () => {
        server
          .removeAllListeners()
          .on('error', () => {})
          .close()
        for (const socket of sockets) socket.destroy()
      }
    },
    port,
    listener,
  )
}
