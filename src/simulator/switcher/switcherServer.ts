/**
 * How the stand-in switcher is reached. HTTP: GET /state, /program.jpg and /program.mjpg; POST /program?input=3,
 * /preview?input=3, /cut, /fade?ms=1000, /monitor?input=3, /outputs (a list of where tally goes), /silent?on=1.
 * OSC over UDP: /program i, /preview i, /cut, /fade f (seconds), /monitor i.
 */
import { createSocket, type Socket } from 'node:dgram'
import { createServer, type IncomingMessage, type Server } from 'node:http'
import * as v from 'valibot'
import { PictureServer } from '../picture/pictureServer'
import type { Switcher } from './buses'
import { readOrder } from './oscIn'
import { type Output, TallyOut } from './tallyOut'

export const SWITCHER_PORTS = { http: 8070, osc: 8071, picture: 8080 }
const USUAL_FADE_MS = 1000
const LONGEST_FADE_MS = 20_000
const TICK_MS = 20
const MOST_BODY = 10_000

const Outputs = v.array(
  v.object({
    kind: v.picklist(['tsl31-udp', 'tsl5-udp', 'tsl5-tcp']),
    host: v.string(),
    port: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(65535)),
  }),
)

async function bodyOf(request: IncomingMessage): Promise<string> {
  let text = ''
  for await (const chunk of request) {
    text += chunk
    if (text.length > MOST_BODY) throw new RangeError('the body is too long')
  }
  return text
}

export class SwitcherServer {
  private readonly http: Server
  private readonly osc: Socket = createSocket('udp4')
  private readonly picture: PictureServer
  private readonly tally: TallyOut
  private timer: ReturnType<typeof setInterval> | null = null
  /** The input on its monitor output. */
  private monitor = 1

  constructor(
    private readonly host: string,
    private readonly switcher: Switcher,
    program: { perSec: number; draw(): Promise<Uint8Array> },
  ) {
    this.tally = new TallyOut(() =>
      switcher.inputs.map((label, i) => ({ number: i + 1, label, ...switcher.lamps(i + 1) })),
    )
    switcher.onChange = () => this.tally.send()
    this.picture = new PictureServer(
      { host, port: SWITCHER_PORTS.picture, perSec: program.perSec },
      program.draw,
    )
    this.http = createServer((request, response) => {
      this.answer(request)
        .catch((error: Error): [number, unknown] => [400, { error: error.message }])
        .then(([status, body]) => {
          response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body))
        })
    })
    this.osc.on('message', (bytes) => {
      const order = readOrder(bytes)
      if (order) this.order(order.path.slice(1), order.value, (seconds) => seconds * 1000)
    })
    this.osc.on('error', () => {})
  }

  async listen(outputs: readonly Output[]): Promise<void> {
    await this.picture.listen()
    await new Promise<void>((resolve, reject) => {
      this.http.once('error', reject)
      this.http.listen(SWITCHER_PORTS.http, this.host, resolve)
    })
    await new Promise<void>((resolve) => this.osc.bind(SWITCHER_PORTS.osc, this.host, resolve))
    this.timer = setInterval(() => this.switcher.tick(), TICK_MS)
    this.tally.to(outputs)
  }

  close(): void {
    if (this.timer) clearInterval(this.timer)
    this.tally.close()
    this.picture.close()
    this.osc.close()
    this.http.close()
    this.http.closeAllConnections()
  }

  private get state() {
    const { inputs, buses } = this.switcher
    return { inputs, ...buses, monitor: this.monitor }
  }

  private async answer(request: IncomingMessage): Promise<[number, unknown]> {
    const url = new URL(request.url ?? '/', 'http://switcher')
    const name = url.pathname.slice(1)
    if (request.method === 'GET' && name === 'state') return [200, this.state]
    if (request.method !== 'POST') return [404, { error: 'no such page' }]
    if (name === 'outputs') {
      this.tally.to(v.parse(Outputs, JSON.parse(await bodyOf(request))))
      return [200, this.state]
    }
    if (name === 'silent') {
      this.tally.silent = url.searchParams.get('on') === '1'
      return [200, this.state]
    }
    const given = url.searchParams.get('input') ?? url.searchParams.get('ms')
    const done = this.order(name, given === null ? null : Number(given), (ms) => ms)
    return done ? [200, this.state] : [400, { error: 'the switcher takes no such order' }]
  }

  private order(name: string, value: number | null, toMs: (value: number) => number): boolean {
    const { switcher } = this
    if (name === 'cut') switcher.cut()
    else if (name === 'fade')
      switcher.fade(Math.min(LONGEST_FADE_MS, value === null ? USUAL_FADE_MS : toMs(value)))
    else if (value === null) return false
    else if (name === 'program') return switcher.toProgram(value)
    else if (name === 'preview') return switcher.toPreview(value)
    else if (name === 'monitor' && switcher.inputs[value - 1] !== undefined) this.monitor = value
    else return false
    return true
  }
}
