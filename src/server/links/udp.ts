/** A UDP link to one address. Packets from elsewhere are ignored. */
import { createSocket } from 'node:dgram'
import { lookup } from 'node:dns/promises'
import { isIPv4 } from 'node:net'
import type { Link } from './link'

const RESOLVE_EVERY_MS = 3000

const TROUBLES: Record<string, string> = {
  ENETUNREACH: 'There is no route to this address. Check the network cable and the address.',
  EHOSTUNREACH: 'There is no route to this address. Check the network cable and the address.',
  EACCES: 'This computer does not allow sending to this address.',
  EINVAL: 'This address cannot be reached from here. Check the address.',
  ECONNREFUSED: 'Nothing listens on this port there. Check the port and that control over IP is on.',
}

export function openUdp(host: string, port: number): Link {
  let receive: (bytes: Uint8Array) => void = () => {}
  let trouble: (text: string | null) => void = () => {}
  let address: string | null = isIPv4(host) ? host : null
  let closed = false
  const socket = createSocket('udp4')

  socket.on('message', (message, peer) => {
    if (peer.port === port && peer.address === address) receive(message)
  })
  socket.on('error', (error: NodeJS.ErrnoException) => trouble(TROUBLES[error.code ?? ''] ?? error.message))

  const resolve = async (): Promise<void> => {
    try {
      address = (await lookup(host, 4)).address
      trouble(null)
    } catch {
      trouble(`The name "${host}" is not known on this network. Check its spelling, or enter the address.`)
      if (!closed) setTimeout(resolve, RESOLVE_EVERY_MS)
    }
  }
  if (!address) void resolve()

  return {
    send(bytes) {
      if (!address || closed) return
      socket.send(bytes, port, address, (error) => {
        const code = (error as NodeJS.ErrnoException | null)?.code
        if (error && !closed) trouble(TROUBLES[code ?? ''] ?? error.message)
      })
    },
    onReceive(listener) {
      receive = listener
    },
    onTrouble(listener) {
      trouble = listener
    },
    close() {
      closed = true
      socket.close()
    },
  }
}
