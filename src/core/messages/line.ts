/**
 * A message to another device, written as one line, with placeholders in braces:
 *
 *     POST http://10.0.0.5/preview?input={input} a body, if any
 *     TCP 10.0.0.5:9900 PREVIEW {input}\r\n
 *     UDP 10.0.0.5:9901 \x02{input}\x03
 *     UDP 10.0.0.5:9901 hex: 02 31 03
 *     OSC 10.0.0.5:8000 /preview i:{input} s:Host f:0.5 T F N
 *     SERIAL /dev/ttyUSB0@9600 PREVIEW {input}\r
 */
import { fillTemplate, type Values } from '../commands/template'
import { type OscValue, writeOsc } from '../osc/osc'
import { parsedUrl } from '../safely'

export interface HttpMessage {
  by: 'http'
  method: 'GET' | 'POST' | 'PUT'
  url: string
  body: string | null
}
export interface PlainMessage {
  by: 'tcp' | 'udp'
  host: string
  port: number
  bytes: Uint8Array
}
export interface SerialMessage {
  by: 'serial'
  path: string
  baud: number
  bytes: Uint8Array
}
export type Message = HttpMessage | PlainMessage | SerialMessage

const HTTP = /^(GET|POST|PUT)\s+(https?:\/\/\S+)(?:\s+([\s\S]*))?$/
const PLAIN = /^(TCP|UDP)\s+([^\s:]+):(\d{1,5})\s([\s\S]+)$/
const SERIAL = /^SERIAL\s+([^\s@]+)@(\d{3,7})\s([\s\S]+)$/
const HEX = /^hex:((?:\s*[0-9a-fA-F]{2})+)\s*$/
const OSC = /^OSC\s+([^\s:]+):(\d{1,5})\s+(\/\S*)((?:\s+\S+)*)\s*$/
const ARGUMENT = /^(?:([ifs]):([\s\S]*)|[TFN])$/
const ESCAPED = /\\(?:r|n|t|\\|x([0-9a-fA-F]{2}))/g
const ESCAPES: Record<string, string> = { '\\r': '\r', '\\n': '\n', '\\t': '\t', '\\\\': '\\' }

/** Other braces are data, as in JSON. */
const PLACEHOLDER = /\{([a-zA-Z]{1,20})(?::[xn]?\d{1,2})?\}/g

const filled = (text: string, values: Values) => text.replace(PLACEHOLDER, (one) => fillTemplate(one, values))

/** Why a line is not understood, in a sentence. */
export class LineFault extends Error {}

const SHAPE =
  'Begin with GET, POST or PUT and an address, with TCP, UDP or OSC and host:port, or with SERIAL and port@baud; then what is to be sent.'

/** Each character that is escaped is one byte; others go as UTF-8. */
function bytesOf(text: string): Uint8Array {
  const hex = HEX.exec(text.trim())
  if (hex) return Uint8Array.from(hex[1]!.match(/[0-9a-fA-F]{2}/g)!, (pair) => Number.parseInt(pair, 16))
  const bytes: number[] = []
  let at = 0
  const plain = (end: number) => bytes.push(...new TextEncoder().encode(text.slice(at, end)))
  for (const match of text.matchAll(ESCAPED)) {
    plain(match.index)
    bytes.push(match[1] ? Number.parseInt(match[1], 16) : ESCAPES[match[0]]!.charCodeAt(0))
    at = match.index + match[0].length
  }
  plain(text.length)
  return Uint8Array.from(bytes)
}

function portOf(text: string): number {
  const port = Number(text)
  if (port < 1 || port > 65535) throw new LineFault(`${text} is no port.`)
  return port
}

function oscValue(text: string): OscValue {
  const match = ARGUMENT.exec(text)
  if (!match) throw new LineFault(`“${text}” is no OSC argument. Write i:1, f:0.5, s:text, T, F or N.`)
  const [, type, value = ''] = match
  if (type === undefined) return text === 'N' ? null : text === 'T'
  if (type === 's') return value
  const number = Number(value)
  if (value === '' || !Number.isFinite(number)) throw new LineFault(`“${value}” is no number.`)
  return type === 'i' ? Math.round(number) : number
}

/** Values may not bring in what separates the parts of a line. */
const encoded = (values: Values): Values =>
  Object.fromEntries(
    Object.entries(values).map(([name, value]) => [
      name,
      typeof value === 'string' ? encodeURIComponent(value) : value,
    ]),
  )

/** @param allowed the placeholders that may stand in it @returns null where the line makes sense */
export function lineProblem(line: string, allowed: readonly string[]): string | null {
  try {
    const unknown = [...line.matchAll(PLACEHOLDER)]
      .map((match) => match[1]!)
      .find((name) => !allowed.includes(name))
    if (unknown) return `{${unknown}} is not known here. Use ${allowed.map((a) => `{${a}}`).join(', ')}.`
    readLine(line, Object.fromEntries(allowed.map((name) => [name, 1])))
    return null
  } catch (error) {
    return (error as Error).message
  }
}

/** @throws LineFault */
export function readLine(line: string, values: Values): Message {
  const text = line.trim()
  const http = HTTP.exec(text)
  if (http) {
    const url = filled(http[2]!, encoded(values))
    if (!parsedUrl(url)) throw new LineFault('This is no address.')
    const method = http[1] as 'GET' | 'POST' | 'PUT'
    return { by: 'http', method, url, body: http[3] === undefined ? null : filled(http[3], values) }
  }
  const plain = PLAIN.exec(text)
  if (plain) {
    const bytes = bytesOf(filled(plain[4]!, values))
    return { by: plain[1] === 'TCP' ? 'tcp' : 'udp', host: plain[2]!, port: portOf(plain[3]!), bytes }
  }
  const serial = SERIAL.exec(text)
  if (serial) {
    const bytes = bytesOf(filled(serial[3]!, values))
    return { by: 'serial', path: serial[1]!, baud: Number(serial[2]), bytes }
  }
  const osc = OSC.exec(text)
  if (!osc) throw new LineFault(SHAPE)
  const given = (osc[4] ?? '').split(/\s+/).filter(Boolean)
  const path = filled(osc[3]!, encoded(values))
  const oscValues = given.map((argument) => oscValue(filled(argument, values)))
  return { by: 'udp', host: osc[1]!, port: portOf(osc[2]!), bytes: writeOsc({ path, values: oscValues }) }
}
