/** Sends tally on to the cameras' own lamps, each as its head can, and again when a camera comes back. */
import { SERVER_ITSELF } from '../../core/orders/actors'
import type { OrderNamed } from '../../core/orders/orders'
import type { TallyState } from '../../core/tally/sources'
import type { CameraResult } from '../cameras/camera'

type Lamp = OrderNamed<'lamp'>['lamp']

export interface LampsNeeds {
  perform(order: OrderNamed<'lamp'>, actor: typeof SERVER_ITSELF): Promise<CameraResult>
}

/** What a lamp shows while nothing is known of its camera: what it showed. */
const LAMP: Record<TallyState, Lamp | null> = {
  program: 'program',
  preview: 'preview',
  off: 'off',
  unknown: null,
}

interface One {
  wanted: Lamp
  /** What the camera has confirmed; null: nothing yet. */
  shown: Lamp | null
  busy: boolean
}

export class Lamps {
  private readonly lamps = new Map<string, One>()
  private readonly answering = new Set<string>()
  private dark: ReadonlySet<string> = new Set()

  constructor(private readonly needs: LampsNeeds) {}

  configure(dark: readonly string[]): void {
    this.dark = new Set(dark)
  }

  show(camera: string, state: TallyState): void {
    const lamp = this.dark.has(camera) ? 'off' : LAMP[state]
    const one = this.lamps.get(camera)
    // A lamp that was never lit need not be put out.
    if (lamp === null || (!one && lamp === 'off')) return
    if (one) one.wanted = lamp
    else this.lamps.set(camera, { wanted: lamp, shown: null, busy: false })
    void this.send(camera)
  }

  /** Once a camera answers again it may have been switched off and on, and its lamp with it. */
  see(camera: string, answers: boolean): void {
    const back = answers && !this.answering.has(camera)
    if (answers) this.answering.add(camera)
    else this.answering.delete(camera)
    const one = this.lamps.get(camera)
    if (!back || !one) return
    one.shown = null
    void this.send(camera)
  }

  forget(camera: string): void {
    this.lamps.delete(camera)
    this.answering.delete(camera)
  }

  /** One at a time; of what comes meanwhile the newest counts. */
  private async send(camera: string): Promise<void> {
    const one = this.lamps.get(camera)
    if (!one || one.busy || one.shown === one.wanted || !this.answering.has(camera)) return
    const { wanted } = one
    one.busy = true
    await this.needs.perform({ t: 'lamp', camera, lamp: wanted }, SERVER_ITSELF).catch(() => {})
    one.busy = false
    // A camera without a lamp refuses, and is not asked again until it comes back.
    one.shown = wanted
    if (one.wanted !== wanted) void this.send(camera)
  }
}
