/**
 * What the machine itself costs: a process that does nothing but pass a socket message on as a packet.
 * Arguments: the UDP port to send to. Tells its own port to its parent.
 */
import { createSocket } from 'node:dgram'
import type { AddressInfo } from 'node:net'
import { WebSocketServer } from 'ws'

const target = Number(process.argv[2])
const udp = createSocket('udp4')
const server: WebSocketServer = new WebSocketServer({ host: '127.0.0.1', port: 0 }, () =>
  process.send?.({ port: (server.address() as AddressInfo).port }),
)
server.on('connection', (socket) => {
  socket.on('message', () => udp.send(Uint8Array.of(0x81, 0xff), target, '127.0.0.1'))
})
process.on('disconnect', () => process.exit(0))
