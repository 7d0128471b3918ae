/** A TCP link that opens itself again when it breaks, and when it only seems to be there. */
import { connect, type Socket } from 'node:net'
import type { Link } from './link'
import { resolveTarget } from './targets'
import { troubleText } from './troubles'

const CONNECT_WITHIN_MS = 3000
/** Where no connection has come after this another is tried beside it: of a link that was cut the system asks ever more rarely. */
const ANOTHER_AFTER_MS = 150
const MOST_AT_ONCE = 10
const RETRY_MS = [100, 300, 700, 1500]
/** So many connections in a row that the other end closed this soon: somebody else takes them away, as we do theirs. */
const RIVAL = { closes: 4, withinMs: 3000, retryMs: 8000 }
const TAKEN =
  'The camera closes every connection at once: another controller seems to hold the only one that it allows. End it there. It is tried again every 8 s.'
/** More than this unsent means that the other end takes nothing any more, bytes. */
const STUCK_BYTES = 4096

export function openTcp(host: string, port: number): Link {
  let receive: (bytes: Uint8Array) => void = () => {}
  let trouble: (text: string | null) => void = () => {}
  let opened: () => void = () => {}
  /** The one that is used; the others are still being tried. */
  let socket: Socket | null = null
  const trying = new Set<Socket>()
  let timer: ReturnType<typeof setTimeout> | null = null
  let tries = 0
  let closed = false
  let openedMs = 0
  let rivalled = 0
  /** One that we gave up: it was not the camera that closed it. */
  let renewed: Socket | null = null

  const openIn = (ms: number) => {
    if (closed || timer) return
    timer = setTimeout(() => {
      timer = null
      if (!socket) void open()
    }, ms)
  }
  const again = () => openIn(RETRY_MS[Math.min(tries++, RETRY_MS.length - 1)]!)

  const open = async (): Promise<void> => {
    let address = host
    try {
      address = await resolveTarget(host, port)
    } catch (error) {
      trouble((error as Error).message)
      return again()
    }
    if (closed || socket) return
    if (trying.size >= MOST_AT_ONCE) return openIn(ANOTHER_AFTER_MS)
    const mine = connect({ host: address, port, noDelay: true })
    trying.add(mine)
    openIn(ANOTHER_AFTER_MS)
    const deadline = setTimeout(
      () => mine.destroy(Object.assign(new Error('timeout'), { code: 'ETIMEDOUT' })),
      CONNECT_WITHIN_MS,
    )
    mine.on('connect', () => {
      clearTimeout(deadline)
      if (closed || socket) return mine.destroy()
      trying.delete(mine)
      socket = mine
      openedMs = performance.now()
      if (timer) clearTimeout(timer)
      timer = null
      for (const other of trying) other.destroy()
      opened()
    })
    mine.on('data', (bytes) => {
      tries = 0
      trouble(null)
      receive(bytes)
    })
    mine.on('error', (error: NodeJS.ErrnoException) => {
      if (!socket || socket === mine) trouble(troubleText(error))
    })
    mine.on('close', (hadError) => {
      clearTimeout(deadline)
      const tried = trying.delete(mine)
      // Another one was quicker, or is still on its way.
      if (tried) {
        if (!socket && trying.size === 0) again()
        return
      }
      if (socket !== mine) return
      socket = null
      if (renewed === mine) return openIn(0)
      rivalled = performance.now() - openedMs < RIVAL.withinMs ? rivalled + 1 : 0
      if (rivalled >= RIVAL.closes) {
        trouble(TAKEN)
        return openIn(RIVAL.retryMs)
      }
      if (!hadError && !closed) trouble(troubleText({ code: 'ECONNRESET', message: '' }))
      again()
    })
  }
  void open()

  return {
    send(bytes) {
      if (!socket) return
      if (socket.writableLength > STUCK_BYTES) socket.resetAndDestroy()
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
      if (!socket) return
      renewed = socket
      // Reset, not closed: the system would still deliver the drives that it holds, behind the stop.
      socket.resetAndDestroy()
    },
    close() {
      closed = true
      if (timer) clearTimeout(timer)
      for (const other of trying) other.destroy()
      // What was written last, a stop, still goes out.
      socket?.end()
      const last = socket
      setTimeout(() => last?.destroy(), 200).unref()
    },
  }
}
