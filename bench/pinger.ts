/** Asks the server's loop again and again whether it is there, from a process that does nothing else; and itself, as the yardstick. */
import WebSocket from 'ws'

const EVERY_MS = 4
const [address] = process.argv.slice(2)
const socket = new WebSocket(`${address!.replace('http', 'ws')}/live`, { origin: address })
let longest = 0
let own = 0
let asked: number | null = null
let last = performance.now()

socket.on('message', () => {})
socket.on('pong', () => {
  if (asked !== null) longest = Math.max(longest, performance.now() - asked)
  asked = null
})
socket.on('open', () => {
  process.send?.({ ready: true })
  setInterval(() => {
    const now = performance.now()
    own = Math.max(own, now - last - EVERY_MS)
    last = now
    if (asked !== null) return
    asked = now
    socket.ping()
  }, EVERY_MS)
})
process.on('message', () => {
  // One that is still on its way counts as it stands.
  if (asked !== null) longest = Math.max(longest, performance.now() - asked)
  process.send?.({ longest, own })
  longest = 0
  own = 0
})
