/**
 * The barest things that could do it, to measure ours beside: a process that passes a socket message on as a
 * packet, and a page with nothing but a pad, a pointer listener and that socket.
 * Arguments: the UDP port to send to. Tells its own port to its parent.
 */
import { createSocket } from 'node:dgram'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { WebSocketServer } from 'ws'

const PAGE = `<!doctype html><meta name=viewport content="width=device-width"><title>Bare</title>
<body style="margin:0"><div id=pad style="position:fixed;inset:0;touch-action:none"></div><script>
const socket = new WebSocket('ws://' + location.host)
const pad = document.getElementById('pad')
let held = false
pad.onpointerdown = () => { held = true }
// Unlike pointermove, this one does not wait for the next frame.
pad.addEventListener('pointerrawupdate', () => { if (held) socket.send('m') })
pad.onpointerup = () => { held = false; socket.send('u') }
socket.onopen = () => { window.__open = true }
</script>`

const target = Number(process.argv[2])
const udp = createSocket('udp4')
const server = createServer((_, response) =>
  response.writeHead(200, { 'content-type': 'text/html' }).end(PAGE),
)
const sockets = new WebSocketServer({ server })
sockets.on('connection', (socket) => {
  socket.on('message', (data) => {
    const up = String(data) === 'u'
    udp.send(Uint8Array.of(0x81, up ? 1 : 0, 0xff), target, '127.0.0.1')
  })
})
server.listen(0, '127.0.0.1', () => process.send?.({ port: (server.address() as AddressInfo).port }))
process.on('disconnect', () => process.exit(0))
