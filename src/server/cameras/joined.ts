/** What one or two devices are together as a camera: what it can do, how it is, where it stands. */
import { type Capabilities, type Health, isUsable, type LinkState } from '../../core/live/messages'
import type { LivePose } from '../../core/presets/pose'
import type { Body } from './body'

/** Which body does what; the same one may stand for all. */
export interface Parts {
  head: Body
  lens: Body
}

/** From the worst to the best: of two parts the worse one is told. */
const WORST_FIRST: readonly LinkState[] = [
  'refused',
  'silent',
  'connecting',
  'standby',
  'slow',
  'unheard',
  'ready',
]

export function joinedCapabilities({ head, lens }: Parts): Capabilities {
  if (head === lens) return head.capabilities
  const [h, l] = [head.capabilities, lens.capabilities]
  return {
    panTilt: h.panTilt,
    zoom: l.zoom,
    focus: l.focus,
    focusMode: l.focusMode,
    position: h.position && l.position,
    power: h.power || l.power,
    home: h.home,
    onePush: l.onePush,
    focusAt: l.focusAt,
    digitalZoom: l.digitalZoom,
    subject: null,
    // A rig is two devices: neither remembers the whole.
    memories: 0,
    light: l.light,
    freeze: l.freeze,
    leash: h.leash,
    device: [h.device, l.device].filter(Boolean).join(' with ') || null,
  }
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

/**
 * Null until all of it has been read once.
 * @param wallMs what the wall's clock is ahead of the drivers'
 */
export function joinedPose(
  { head, lens }: Parts,
  hfovDeg: (zoom: number) => number,
  wallMs: number,
): Omit<LivePose, 'held'> | null {
  const [h, l] = [head.reading, lens.reading]
  const focusAuto = l.focusAuto ?? (lens.capabilities.focusMode ? null : true)
  if (h.panDeg === null || h.tiltDeg === null || l.zoom === null || focusAuto === null) return null
  return {
    panDeg: h.panDeg,
    tiltDeg: h.tiltDeg,
    zoom: l.zoom,
    focusAuto,
    focus: l.focus,
    hfovDeg: hfovDeg(l.zoom),
    power: h.power !== false && l.power !== false,
    moving: h.panTiltMoving || l.zoomMoving,
    atMs: Math.round(h.panTiltAtMs + wallMs),
  }
}
