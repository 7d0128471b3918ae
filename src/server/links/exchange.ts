/** One message to another device and its answer, within a time limit. */
import { createSocket } from 'node:dgram'
import { connect } from 'node:net'
import type { HttpMessage, Message, PlainMessage, SerialMessage } from '../../core/messages/line'
import { DeviceFault } from '../cameras/deviceFault'
import { http } from './http'
import { openSerial } from './serial'
import { resolveTarget } from './targets'
import { troubleText } from './troubles'

export const ANSWER_BYTES = 64 * 1024
const WITHIN_MS = 1500
/** A port may still be opening, ms. */
const SERIAL_OPENS_MS = 1200

export interface ExchangeOptions {
  withinMs?: number
  /** What the answer must hold; '' for any answer, or none. */
  expects?: string
  /** It may lead to this computer. */
  local?: boolean
}

export interface Exchanged {
  /** As far as it can be read as text; '' where none came. */
  text: string
}

const words = (error: NodeJS.ErrnoException) =>
  new DeviceFault('network', troubleText(error), error.code ?? null)
const NO_ANSWER = (expects: string, text: string) =>
  new DeviceFault(
    'nonsense',
    text === ''
      ? `It did not answer, and “${expects}” was expected.`
      : `It answered “${text.slice(0, 200)}”, where “${expects}” was expected.`,
  )

/** Gathers what comes, up to a limit, until it holds what is expected. */
class Gathered {
  private readonly pieces: Buffer[] = []
  private bytes = 0

  constructor(private readonly expects: string) {}

  get text(): string {
    return Buffer.concat(this.pieces).toString('utf8')
  }

  /** @returns whether it is enough */
  take(piece: Uint8Array): boolean {
    const room = ANSWER_BYTES - this.bytes
    const part = Buffer.from(piece.subarray(0, room))
    this.pieces.push(part)
    this.bytes += part.length
    return this.bytes >= ANSWER_BYTES || (this.expects !== '' && this.text.includes(this.expects))
  }
}

type Options = Required<ExchangeOptions>

async function overTcp({ host, port, bytes }: PlainMessage, { withinMs, expects, local }: Options) {
  const address = await resolveTarget(host, port, local)
  const gathered = new Gathered(expects)
  await new Promise<void>((resolve, reject) => {
    const socket = connect({ host: address, port, noDelay: true })
    let open = false
    const timer = setTimeout(() => {
      socket.destroy()
      // Taken, and no answer: whether that will do is seen below.
      if (open) resolve()
      else reject(words(Object.assign(new Error(), { code: 'ETIMEDOUT' })))
    }, withinMs)
    socket.once('error', (error) => reject(words(error)))
    socket.once('connect', () => {
      open = true
      if (expects === '') socket.end(bytes)
      else socket.write(bytes)
    })
    socket.on('data', (piece) => gathered.take(piece) && socket.destroy())
    socket.once('finish', () => expects === '' && socket.destroySoon())
    socket.once('close', () => {
      clearTimeout(timer)
      resolve()
    })
  })
  return gathered.text
}

async function overUdp({ host, port, bytes }: PlainMessage, { withinMs, expects, local }: Options) {
  const address = await resolveTarget(host, port, local)
  const gathered = new Gathered(expects)
  const socket = createSocket('udp4')
  try {
    await new Promise<void>((resolve, reject) => {
      const timer = setTimeout(resolve, withinMs)
      const done = () => {
        clearTimeout(timer)
        resolve()
      }
      socket.on('error', (error) => reject(words(error)))
      socket.on('message', (piece, from) => from.address === address && gathered.take(piece) && done())
      socket.send(bytes, port, address, (error) => {
        if (error) reject(words(error))
        else if (expects === '') done()
      })
    })
  } finally {
    socket.close()
  }
  return gathered.text
}

async function overSerial({ path, baud, bytes }: SerialMessage, { withinMs, expects }: Options) {
  const gathered = new Gathered(expects)
  const link = openSerial({ path, baud, format: '8N1' })
  try {
    await new Promise<void>((resolve, reject) => {
      let trouble: string | null = null
      let sent = false
      const opening = setTimeout(
        () =>
          !sent && reject(new DeviceFault('network', trouble ?? `The serial port ${path} does not open.`)),
        SERIAL_OPENS_MS,
      )
      link.onReceive((piece) => gathered.take(piece) && resolve())
      link.onTrouble((text) => {
        trouble = text
      })
      link.onOpen(() => {
        if (sent) return
        sent = true
        clearTimeout(opening)
        link.send(bytes)
        // At its speed, with a start and a stop bit to each byte.
        setTimeout(resolve, expects === '' ? 20 + (bytes.length * 10_000) / baud : withinMs)
      })
    })
  } finally {
    link.close()
  }
  return gathered.text
}

async function overHttp({ method, url, body }: HttpMessage, { withinMs, local }: Options) {
  const answer = await http({
    ...{ url: new URL(url), method, timeoutMs: withinMs, maxBytes: ANSWER_BYTES, cut: true, local },
    ...(body === null
      ? {}
      : { body, contentType: /^\s*[{[]/.test(body) ? 'application/json' : 'text/plain' }),
  })
  const text = answer.body.toString('utf8')
  // Where it sends us is not followed: it might lead anywhere.
  if (answer.status >= 300)
    throw new DeviceFault(
      'refused',
      `The device answered with ${answer.status}. ${text.slice(0, 200)}`.trim(),
    )
  return text
}

/** @throws DeviceFault, or TargetRefused, in words for the operator. A datagram that was sent may still be lost. */
export async function exchange(message: Message, options: ExchangeOptions = {}): Promise<Exchanged> {
  const all = { withinMs: WITHIN_MS, expects: '', local: true, ...options }
  const text = await (message.by === 'http'
    ? overHttp(message, all)
    : message.by === 'serial'
      ? overSerial(message, all)
      : message.by === 'tcp'
        ? overTcp(message, all)
        : overUdp(message, all))
  if (all.expects !== '' && !text.includes(all.expects)) throw NO_ANSWER(all.expects, text)
  return { text }
}
