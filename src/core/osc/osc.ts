/**
 * OSC 1.0: an address, a list of types and the arguments, each padded to four bytes, big-endian. A bundle holds
 * messages and further bundles; its time is not used here, since what it says is true when it arrives.
 */

export type OscValue = string | number | boolean | null | Uint8Array
export interface OscMessage {
  path: string
  values: OscValue[]
}

/** Deeper than any program nests its bundles. */
const DEEPEST = 8
const BUNDLE = '#bundle'
const TIME_BYTES = 8

// Made at its first use: what only writes needs none.
let decoder: TextDecoder | null = null
const utf8 = (): TextDecoder => {
  decoder ??= new TextDecoder('utf-8')
  return decoder
}

class Unreadable extends Error {}

class Reader {
  private at = 0
  private readonly view: DataView

  constructor(private readonly bytes: Uint8Array) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  }

  get ended(): boolean {
    return this.at >= this.bytes.length
  }

  take(length: number): Uint8Array {
    if (length < 0 || this.at + length > this.bytes.length) throw new Unreadable()
    this.at += length
    return this.bytes.subarray(this.at - length, this.at)
  }

  int(): number {
    const at = this.at
    this.take(4)
    return this.view.getInt32(at)
  }

  float(): number {
    const at = this.at
    this.take(4)
    return this.view.getFloat32(at)
  }

  double(): number {
    const at = this.at
    this.take(8)
    return this.view.getFloat64(at)
  }

  long(): number {
    const at = this.at
    this.take(8)
    return Number(this.view.getBigInt64(at))
  }

  text(): string {
    const end = this.bytes.indexOf(0, this.at)
    if (end < 0) throw new Unreadable()
    const text = utf8().decode(this.bytes.subarray(this.at, end))
    const padded = (Math.floor((end - this.at) / 4) + 1) * 4
    this.take(Math.min(padded, this.bytes.length - this.at))
    return text
  }

  blob(): Uint8Array {
    const length = this.int()
    const bytes = this.take(length)
    this.take((4 - (length % 4)) % 4)
    return bytes.slice()
  }
}

function readValue(type: string, from: Reader): OscValue {
  switch (type) {
    case 'i':
      return from.int()
    case 'f':
      return from.float()
    case 'd':
      return from.double()
    case 'h':
      return from.long()
    case 's':
    case 'S':
      return from.text()
    case 'b':
      return from.blob()
    case 'T':
      return true
    case 'F':
      return false
    case 'N':
      return null
    case 'I':
      return Number.POSITIVE_INFINITY
    default:
      throw new Unreadable()
  }
}

function readInto(messages: OscMessage[], bytes: Uint8Array, depth: number): void {
  if (depth > DEEPEST) throw new Unreadable()
  const from = new Reader(bytes)
  const path = from.text()
  if (path === BUNDLE) {
    from.take(TIME_BYTES)
    while (!from.ended) readInto(messages, from.take(from.int()), depth + 1)
    return
  }
  if (!path.startsWith('/')) throw new Unreadable()
  // Old senders leave the list of types out where there are no arguments.
  const types = from.ended ? ',' : from.text()
  if (!types.startsWith(',')) throw new Unreadable()
  messages.push({ path, values: [...types.slice(1)].map((type) => readValue(type, from)) })
}

/** @returns the messages of a packet in their order; none where any part of it cannot be read */
export function readOsc(bytes: Uint8Array): OscMessage[] {
  const messages: OscMessage[] = []
  try {
    readInto(messages, bytes, 0)
  } catch (error) {
    if (error instanceof Unreadable) return []
    throw error
  }
  return messages
}

const padded = (bytes: Uint8Array): number[] => [...bytes, ...new Array((4 - (bytes.length % 4)) % 4).fill(0)]
const textBytes = (text: string): number[] => padded(new TextEncoder().encode(`${text}\0`))

function numberBytes(value: number): { type: string; bytes: number[] } {
  const bytes = new DataView(new ArrayBuffer(4))
  const isInt = Number.isInteger(value) && Math.abs(value) < 2 ** 31
  if (isInt) bytes.setInt32(0, value)
  else bytes.setFloat32(0, value)
  return { type: isInt ? 'i' : 'f', bytes: [...new Uint8Array(bytes.buffer)] }
}

function valueBytes(value: OscValue): { type: string; bytes: number[] } {
  if (typeof value === 'number') return numberBytes(value)
  if (typeof value === 'string') return { type: 's', bytes: textBytes(value) }
  if (value instanceof Uint8Array)
    return { type: 'b', bytes: [...numberBytes(value.length).bytes, ...padded(value)] }
  return { type: value === null ? 'N' : value ? 'T' : 'F', bytes: [] }
}

/** Whole numbers go as integers, others as floats. */
export function writeOsc({ path, values }: OscMessage): Uint8Array {
  const written = values.map(valueBytes)
  const types = `,${written.map(({ type }) => type).join('')}`
  return Uint8Array.from([...textBytes(path), ...textBytes(types), ...written.flatMap(({ bytes }) => bytes)])
}
