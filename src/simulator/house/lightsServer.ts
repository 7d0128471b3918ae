/** The stand-in house lights: OSC over UDP. /hall f and /stage f set a level at once, 0 to 1; /hall/fade f in 3 s. */
import { createSocket, type Socket } from 'node:dgram'
import { readOrder } from '../switcher/oscIn'
import { type BarnHouse, isLight } from './house'

export const LIGHTS_PORT = 9000
const FADE_S = 3

export class LightsServer {
  private readonly socket: Socket = createSocket('udp4')

  constructor(
    private readonly host: string,
    house: BarnHouse,
  ) {
    this.socket.on('error', () => {})
    this.socket.on('message', (bytes) => {
      const order = readOrder(bytes)
      const [, light = '', how] = order?.path.split('/') ?? []
      if (order?.value === null || order?.value === undefined || !isLight(light)) return
      house.dim(light, order.value, how === 'fade' ? FADE_S : 0)
    })
  }

  listen(): Promise<void> {
    return new Promise((resolve, reject) => {
      this.socket.once('error', reject)
      this.socket.bind(LIGHTS_PORT, this.host, resolve)
    })
  }

  close(): void {
    this.socket.close()
  }
}
