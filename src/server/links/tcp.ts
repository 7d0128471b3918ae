/** A TCP link that opens itself again when it breaks, and when it only seems to be there. */
import { lookup } from 'node:dns/promises'
import { connect, isIPv4, type Socket } from 'node:net'
import type { Link } from './link'
import { NOT_KNOWN, troubleText } from './troubles'

const CONNECT_WITHIN_MS = 3000
const RETRY_MS = [100, 300, 700, 1500]
/** More than this unsent means that the other end takes nothing any more, bytes. */
const STUCK_BYTES = 4096

export function openTcp(host: string, port: number): Link {
  let receive: (bytes: Uint8Array) => void = () => {}
  let trouble: (text: string | null) => void = () => {}
  let opened: () => void = () => {}
  let socket: Socket | null = null
  let timer: ReturnType<typeof setTimeout> | null = null
  let tries = 0
  let closed = false
  /** One that we gave up: it was not the camera that closed it. */
  let renewed: Socket | null = null

  const again = () => {
    if (closed || timer) return
    const wait = RETRY_MS[Math.min(tries++, RETRY_MS.length - 1)]!
    timer = setTimeout(() => {
      timer = null
      void open()
    }, wait)
  }

  const open = async (): Promise<void> => {
    let address = host
    try {
      if (!isIPv4(host)) address = (await lookup(host, 4)).address
    } catch {
      trouble(NOT_KNOWN(host))
      return again()
    }
    if (closed) return
    const mine = connect({ host: address, port, noDelay: true })
    socket = mine
    const deadline = setTimeout(
      () => mine.destroy(Object.assign(new Error('timeout'), { code: 'ETIMEDOUT' })),
      CONNECT_WITHIN_MS,
    )
    mine.on('connect', () => {
      clearTimeout(deadline)
      opened()
    })
    mine.on('data', (bytes) => {
      tries = 0
      trouble(null)
      receive(bytes)
    })
    mine.on('error', (error: NodeJS.ErrnoException) => trouble(troubleText(error)))
    mine.on('close', (hadError) => {
      clearTimeout(deadline)
      if (socket !== mine) return
      socket = null
      if (!hadError && !closed && renewed !== mine) trouble(troubleText({ code: 'ECONNRESET', message: '' }))
      again()
    })
  }
  void open()

  return {
    send(bytes) {
      if (!socket || socket.connecting) return
      if (socket.writableLength > STUCK_BYTES) socket.destroy()
      else socket.write(bytes)
    },
    onReceive(listener) {
      receive = listener
    },
    onTrouble(listener) {
      trouble = listener
    },
    onOpen(listener) {
      opened = listener
    },
    renew() {
      if (!socket || socket.connecting) return
      renewed = socket
      socket.destroy()
    },
    close() {
      closed = true
      if (timer) clearTimeout(timer)
      // What was written last, a stop, still goes out.
      socket?.end()
      const last = socket
      setTimeout(() => last?.destroy(), 200).unref()
    },
  }
}
