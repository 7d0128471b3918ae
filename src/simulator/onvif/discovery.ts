/** Answers WS-Discovery probes for the stand-ins, on loopback only. */
import { randomUUID } from 'node:crypto'
import { createSocket, type Socket } from 'node:dgram'
import {
  DISCOVERY_GROUP,
  DISCOVERY_PORT,
  type ProbeMatch,
  probeMatches,
  readProbe,
} from '../../core/onvif/discovery'

export interface Announced extends ProbeMatch {
  /** False while it is cut off. */
  present(): boolean
}

export function answerProbes(devices: readonly Announced[]): Promise<Socket> {
  const socket = createSocket({ type: 'udp4', reuseAddr: true })
  socket.on('message', (bytes, peer) => {
    const asked = readProbe(bytes.toString('utf8'))
    if (asked === null) return
    for (const device of devices) {
      if (device.present())
        socket.send(probeMatches(device, randomUUID(), asked), peer.port, peer.address, () => {})
    }
  })
  return new Promise((resolve, reject) => {
    socket.once('error', reject)
    socket.bind(DISCOVERY_PORT, () => {
      socket.off('error', reject)
      socket.on('error', () => {})
      socket.addMembership(DISCOVERY_GROUP, '127.0.0.1')
      resolve(socket)
    })
  })
}
