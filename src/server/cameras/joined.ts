/** What one or two devices are together as a camera: what it can do, how it is, where it stands. */
import type { Capabilities } from '../../core/facts/capabilities'
import { type Health, isUsable, type LinkState } from '../../core/facts/health'
import { ORDERS, type OrderName } from '../../core/orders/orders'
import type { LivePose } from '../../core/presets/pose'
import { SPEEDS_AT_REST, type Speeds } from '../../core/stick/speeds'
import { type Body, capabilitiesOf } from './body'

/** Which body does what; the same one may stand for all. */
export interface Parts {
  head: Body
  lens: Body
}

/** From worst to best: of two parts the worse state is shown. */
const WORST_FIRST: readonly LinkState[] = [
  'refused',
  'silent',
  'connecting',
  'standby',
  'slow',
  'unheard',
  'ready',
]

/** What the desk asks of a lens; all else of its own it asks of a head. */
const OF_THE_LENS: readonly string[] = ['light', 'freeze']

/** Whose order it is, of a rig: neither part can do what needs the whole camera. */
function belongsTo(part: 'head' | 'lens', order: string): boolean {
  const by = ORDERS[order as OrderName]?.by ?? (OF_THE_LENS.includes(order) ? 'lens' : 'head')
  return by === part || by === 'each'
}

export function joinedCapabilities({ head, lens }: Parts): Capabilities {
  if (head === lens) return capabilitiesOf(head)
  const [h, l] = [capabilitiesOf(head), capabilitiesOf(lens)]
  const orders = new Set([
    ...h.orders.filter((order) => belongsTo('head', order)),
    ...l.orders.filter((order) => belongsTo('lens', order)),
  ])
  return {
    panTilt: h.panTilt,
    zoom: l.zoom,
    focus: l.focus,
    position: { panTilt: h.position.panTilt, zoom: l.position.zoom },
    orders: [...orders],
    settings: l.settings,
    subject: null,
    memories: 0,
    device: [h.device, l.device].filter(Boolean).join(' with ') || null,
  }
}

/** Each part of a rig is driven by what it can do. */
export function driveJoined({ head, lens }: Parts, speeds: Speeds, refines: boolean): void {
  if (head === lens) {
    head.drive(speeds, refines)
    return
  }
  const { panDegPerSec, tiltDegPerSec, zoomPerSec, focus } = speeds
  head.drive({ ...SPEEDS_AT_REST, panDegPerSec, tiltDegPerSec }, refines)
  lens.drive({ ...SPEEDS_AT_REST, zoomPerSec, focus }, refines)
}

export function joinedHealth({ head, lens }: Parts): Health {
  if (head === lens) return head.health
  const [h, l] = [head.health, lens.health]
  const worse = WORST_FIRST.indexOf(l.state) < WORST_FIRST.indexOf(h.state) ? l : h
  const part = worse === l ? 'Lens' : 'Head'
  return {
    ...worse,
    advice: worse.advice && `${part}: ${worse.advice}`,
    roundTripMs: h.roundTripMs === null ? l.roundTripMs : Math.max(h.roundTripMs, l.roundTripMs ?? 0),
    loss: Math.max(h.loss, l.loss),
    reconnects: h.reconnects + l.reconnects,
  }
}

export const answers = ({ state }: Health): boolean => isUsable(state) || state === 'standby'

/** A pose that moves, or has just moved, must not be older than half a second where it is seen; on its way there it ages too, ms. */
export const LATE_MS = 470

/** When what is shown was read: the older of its axes, as far as the camera reports them. */
export const readAtMs = ({ head, lens }: Parts, nowMs: number): number =>
  Math.min(
    head.traits.position.panTilt ? head.reading.panTiltAtMs : nowMs,
    lens.traits.position.zoom ? lens.reading.zoomAtMs : nowMs,
  )

/**
 * Null until something of it has been read. An axis that the camera does not report stays unknown by itself; one
 * that it reports and that has not been read yet is waited for.
 * @param wallMs what the wall's clock is ahead of the drivers'
 * @param restless something is to move it, or has just moved it
 */
export function joinedPose(
  parts: Parts,
  hfovDeg: (zoom: number) => number,
  { wallMs, nowMs, held, restless }: { wallMs: number; nowMs: number; held: boolean; restless: boolean },
): LivePose | null {
  const { head, lens } = parts
  const [h, l] = [head.reading, lens.reading]
  const { panTilt } = head.traits.position
  const { zoom } = lens.traits.position
  const awaited = (panTilt && h.panDeg === null) || (zoom && l.zoom === null)
  if (awaited || (!panTilt && !zoom)) return null
  const moving = h.panTiltMoving || l.zoomMoving
  return {
    panDeg: panTilt ? h.panDeg : null,
    tiltDeg: panTilt ? h.tiltDeg : null,
    encoder: panTilt ? h.encoder : null,
    zoom: zoom ? l.zoom : null,
    focusAuto: l.focusAuto,
    focus: l.focus,
    hfovDeg: zoom && l.zoom !== null ? hfovDeg(l.zoom) : null,
    power: h.power !== false && l.power !== false,
    moving,
    held,
    late: (moving || restless) && nowMs - readAtMs(parts, nowMs) > LATE_MS,
    atMs: Math.round((panTilt ? h.panTiltAtMs : l.zoomAtMs) + wallMs),
  }
}
