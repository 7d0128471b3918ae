/** Finds ONVIF cameras by WS-Discovery, on all networks of this computer. */
import { randomUUID } from 'node:crypto'
import { createSocket } from 'node:dgram'
import { networkInterfaces } from 'node:os'
import {
  DISCOVERY_GROUP,
  DISCOVERY_PORT,
  type ProbeMatch,
  probe,
  readProbeMatches,
} from '../../core/onvif/discovery'

/** Probes may be lost: they go out at these times, ms. */
const SEND_AT_MS = [0, 250, 700]
const LISTEN_MS = 1600

function interfaces(): string[] {
  return Object.values(networkInterfaces())
    .flat()
    .filter((a) => a?.family === 'IPv4')
    .map((a) => a!.address)
}

export function findOnvif(signal: AbortSignal, found: (match: ProbeMatch) => void): Promise<void> {
  const seen = new Set<string>()
  const sockets = interfaces().map((address) => {
    const socket = createSocket('udp4')
    socket.on('error', () => {})
    socket.on('message', (bytes) => {
      for (const match of readProbeMatches(bytes.toString('utf8'))) {
        const key = match.addresses.join(' ')
        if (!seen.has(key)) found(match)
        seen.add(key)
      }
    })
    socket.bind(0, address, () => {
      socket.setMulticastInterface(address)
      socket.setMulticastTTL(2)
      const text = probe(randomUUID())
      for (const ms of SEND_AT_MS) {
        setTimeout(() => !signal.aborted && socket.send(text, DISCOVERY_PORT, DISCOVERY_GROUP, () => {}), ms)
      }
    })
    return socket
  })
  return new Promise((resolve) => {
    const end = () => {
      clearTimeout(timer)
      signal.removeEventListener('abort', end)
      for (const socket of sockets) socket.close()
      resolve()
    }
    // A probe that is due when all is over finds its socket closed.
    const timer = setTimeout(end, LISTEN_MS)
    signal.addEventListener('abort', end)
  })
}
