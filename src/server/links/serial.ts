/** A serial port that opens itself again when its adapter was pulled out and put back. */
import { SerialPort } from 'serialport'
import type { Link } from './link'

const RETRY_MS = 250

export interface SerialSettings {
  path: string
  baud: number
  /** Data bits, parity, stop bits. */
  format: '8N1' | '8E1' | '8O1' | '8N2'
}

const PARITY = { N: 'none', E: 'even', O: 'odd' } as const

export function serialTrouble(path: string, message: string): string {
  if (/No such file|cannot find|not found/i.test(message))
    return `The serial port ${path} is not there. Plug the adapter in; it will then be opened automatically.`
  if (/denied|permission/i.test(message))
    return `This computer does not allow the use of ${path}. Add the user to the group "dialout", then start again.`
  if (/lock|busy|temporarily/i.test(message))
    return `The serial port ${path} is used by another program. End that one.`
  return `The serial port ${path} cannot be opened: ${message}`
}

export function openSerial({ path, baud, format }: SerialSettings): Link {
  let receive: (bytes: Uint8Array) => void = () => {}
  let trouble: (text: string | null) => void = () => {}
  let opened: () => void = () => {}
  let port: SerialPort | null = null
  let closed = false

  const again = () => {
    if (!closed) setTimeout(() => !closed && open(), RETRY_MS)
  }

  const open = () => {
    const mine = new SerialPort({
      path,
      baudRate: baud,
      dataBits: 8,
      parity: PARITY[format[1] as 'N' | 'E' | 'O'],
      stopBits: format[2] === '2' ? 2 : 1,
      autoOpen: false,
    })
    mine.on('data', (bytes: Buffer) => receive(bytes))
    mine.on('error', () => mine.isOpen && mine.close(() => {}))
    mine.on('close', () => {
      if (port !== mine) return
      port = null
      if (closed) return
      trouble(`The serial port ${path} is gone. Plug the adapter in again; it reconnects by itself.`)
      again()
    })
    mine.open((error) => {
      if (closed) return mine.isOpen ? mine.close(() => {}) : undefined
      if (error) {
        trouble(serialTrouble(path, error.message))
        return again()
      }
      port = mine
      trouble(null)
      opened()
    })
  }
  open()

  return {
    send(bytes) {
      port?.write(bytes)
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
    renew() {},
    close() {
      closed = true
      const mine = port
      if (mine?.isOpen) mine.drain(() => mine.close(() => {}))
    },
  }
}
