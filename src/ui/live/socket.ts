/** A WebSocket that comes back by itself. */

import { under } from './base'
import { SIGNED_OUT, signedOutPerhaps } from './signedOut'

const RETRY_MS = [300, 600, 1200, 2000]
const COOKIE_WITHIN_MS = 400

export interface Reconnecting {
  send(message: object): boolean
  close(): void
}

/** @param path on the server that served this page */
export function openSocket(
  path: string,
  on: { open(): void; close(): void; message(data: string | ArrayBuffer): void },
): Reconnecting {
  let socket: WebSocket | null = null
  let tries = 0
  let closed = false
  // On a page or in one of its workers.
  const { protocol, host } = globalThis.location
  const url = `${protocol === 'https:' ? 'wss' : 'ws'}://${host}${under(path)}`

  const connect = () => {
    if (closed) return
    const mine = new WebSocket(url)
    mine.binaryType = 'arraybuffer'
    socket = mine
    let opened = false
    mine.onopen = () => {
      tries = 0
      opened = true
      on.open()
    }
    mine.onmessage = (event) => on.message(event.data)
    mine.onclose = ({ code }) => {
      if (socket !== mine) return
      // Whoever has just become the owner gets their cookie in the same moment.
      if (code === SIGNED_OUT) setTimeout(() => void signedOutPerhaps(), COOKIE_WITHIN_MS)
      else if (!opened && tries > 0) void signedOutPerhaps()
      socket = null
      on.close()
      setTimeout(connect, RETRY_MS[Math.min(tries++, RETRY_MS.length - 1)])
    }
  }
  connect()

  return {
    send(message) {
      if (socket?.readyState !== WebSocket.OPEN) return false
      socket.send(JSON.stringify(message))
      return true
    },
    close() {
      closed = true
      socket?.close()
    },
  }
}
