/**
 * What programs and button boxes can ask for: one address each, the same over HTTP (`POST /api/remote/go`) and OSC
 * (`/heron/go`). Most of them become a request to the API, so that they do exactly what the Desk does.
 */
import type { Show } from '../cues/show'
import { PUSH_AT_REST, type Push } from '../stick/speeds'
import { TALLY_STATES } from '../tally/sources'
import type { RemoteRight } from './settings'

export type RemoteValue = string | number | boolean | null

export interface RemoteView {
  cameras: readonly { id: string; number: number; name: string }[]
  presets: readonly { id: string; cameraId: string; number: number; name: string }[]
  show: Show
}

export type RemoteOrder =
  | { t: 'request'; method: 'POST' | 'PUT'; path: string; body: unknown }
  | { t: 'stick'; camera: string; push: Push }
  | { t: 'select'; camera: string }

/** Why it cannot be understood, in a sentence. */
export class RemoteFault extends Error {}

interface Address {
  /** `*` stands for a number or a name. */
  path: string
  right: RemoteRight
  /** As in the documentation. */
  takes: string
  does: string
  order(view: RemoteView, parts: readonly string[], values: readonly RemoteValue[]): RemoteOrder
}

const request = (path: string, body: unknown = {}, method: 'POST' | 'PUT' = 'POST'): RemoteOrder => ({
  ...{ t: 'request', method, path, body },
})

function named<T extends { name?: string; label?: string }>(
  all: readonly T[],
  wanted: RemoteValue | undefined,
  what: string,
): T {
  const text = String(wanted ?? '')
    .trim()
    .toLowerCase()
  const byName = all.find((one) => (one.name ?? one.label ?? '').toLowerCase() === text)
  const found = byName ?? (/^\d+$/.test(text) ? all[Number(text) - 1] : undefined)
  if (!found) throw new RemoteFault(`There is no ${what} “${String(wanted ?? '')}”.`)
  return found
}

function cameraOf(view: RemoteView, part: string | undefined): RemoteView['cameras'][number] {
  const found = view.cameras.find(({ number }) => String(number) === part)
  if (!found) throw new RemoteFault(`No camera has the number ${part ?? ''}.`)
  return found
}

function presetOf(view: RemoteView, cameraId: string, wanted: RemoteValue | undefined) {
  const own = view.presets.filter((p) => p.cameraId === cameraId)
  const text = String(wanted ?? '').toLowerCase()
  const found = own.find((p) => String(p.number) === text) ?? own.find((p) => p.name.toLowerCase() === text)
  if (!found) throw new RemoteFault(`This camera has no preset “${String(wanted ?? '')}”.`)
  return found
}

const share = (value: RemoteValue | undefined): number => {
  const number = Number(value ?? 0)
  if (!Number.isFinite(number)) throw new RemoteFault('Deflections are numbers from -1 to 1.')
  return Math.max(-1, Math.min(1, number))
}

const orderOf = (show: Show) => show.cues.filter(({ listed }) => listed)

export const ADDRESSES: readonly Address[] = [
  { path: 'go', right: 'cues', takes: '', does: 'starts the next cue', order: () => request('/show/go') },
  {
    ...{ path: 'next', right: 'cues', takes: '', does: 'chooses the cue after' },
    order: () => request('/show/next', { by: 1 }),
  },
  {
    ...{ path: 'back', right: 'cues', takes: '', does: 'chooses the cue before' },
    order: () => request('/show/next', { by: -1 }),
  },
  {
    ...{
      path: 'hold',
      right: 'cues',
      takes: 'on: 1 or 0',
      does: 'holds the running order, or lets it go on',
    },
    order: (_, __, [on = 1]) => request('/show/hold', { on: Boolean(Number(on)) }),
  },
  {
    ...{ path: 'stop', right: 'cues', takes: '', does: 'ends all cues and stops all cameras softly' },
    order: () => request('/stop-all'),
  },
  {
    ...{ path: 'cue/go', right: 'cues', takes: 'name, or place in the order', does: 'starts a cue' },
    order({ show }, _, [cue]) {
      const all = typeof cue === 'string' && !/^\d+$/.test(cue) ? show.cues : orderOf(show)
      return request(`/cues/${named(all, cue, 'cue').id}/go`)
    },
  },
  {
    ...{ path: 'cue/stop', right: 'cues', takes: 'name', does: 'ends a cue' },
    order: ({ show }, _, [cue]) => request(`/cues/${named(show.cues, cue, 'cue').id}/stop`),
  },
  {
    ...{ path: 'tour/go', right: 'cues', takes: 'name', does: 'starts a tour' },
    order: ({ show }, _, [tour]) => request(`/tours/${named(show.tours, tour, 'tour').id}/go`),
  },
  {
    ...{ path: 'tour/stop', right: 'cues', takes: 'name', does: 'ends a tour' },
    order: ({ show }, _, [tour]) => request(`/tours/${named(show.tours, tour, 'tour').id}/stop`),
  },
  {
    ...{
      path: 'button/*',
      right: 'cues',
      takes: '',
      does: 'presses a button of the board, by place or name',
    },
    order({ show }, [, which]) {
      const { does } = named(show.buttons, which, 'button')
      if (does.t === 'cue') return request(`/cues/${does.cue}/go`)
      if (does.t === 'tour') return request(`/tours/${does.tour}/go`)
      if (does.t === 'look') return request(`/looks/${does.look}/recall`)
      if (does.t === 'replay') return request(`/moves/${does.move}/play`)
      return request(`/devices/${does.device}/messages/${does.message}`)
    },
  },
  {
    ...{ path: 'camera/*/select', right: 'recall', takes: '', does: 'chooses the camera on every open Desk' },
    order: (view, [, camera]) => ({ t: 'select', camera: cameraOf(view, camera).id }),
  },
  {
    ...{ path: 'camera/*/recall', right: 'recall', takes: 'number or name', does: 'recalls a preset' },
    order(view, [, camera], [preset]) {
      const { id } = presetOf(view, cameraOf(view, camera).id, preset)
      return request(`/presets/${id}/recall`)
    },
  },
  {
    ...{
      path: 'camera/*/store',
      right: 'store',
      takes: 'number',
      does: 'stores a preset, also over another',
    },
    order(view, [, camera], [number]) {
      const { id } = cameraOf(view, camera)
      const wanted = Number(number)
      if (!Number.isInteger(wanted) || wanted < 1) throw new RemoteFault('Give the number of the preset.')
      const there = view.presets.find((p) => p.cameraId === id && p.number === wanted)
      return there
        ? request(`/presets/${there.id}/shot`, { light: false }, 'PUT')
        : request('/presets', { cameraId: id, number: wanted, light: false })
    },
  },
  {
    path: 'camera/*/stick',
    right: 'drive',
    takes: 'pan, tilt, zoom: -1 to 1',
    does: 'drives for 0.3 s; repeat it for as long as the hand is on it',
    order: (view, [, camera], [pan, tilt, zoom]) => ({
      t: 'stick',
      camera: cameraOf(view, camera).id,
      push: { ...PUSH_AT_REST, pan: share(pan), tilt: share(tilt), zoom: share(zoom) },
    }),
  },
  {
    ...{
      path: 'tally/*',
      right: 'tally',
      takes: 'program, preview or off',
      does: 'says whether a camera is on air',
    },
    order(view, [, camera], [state]) {
      if (!(TALLY_STATES as readonly unknown[]).includes(state))
        throw new RemoteFault('Tally is program, preview, off or unknown.')
      return request(`/tally/${cameraOf(view, camera).number}`, { state })
    },
  },
]

/** @param path as `camera/2/recall` @throws RemoteFault */
export function readRemote(
  view: RemoteView,
  path: string,
  values: readonly RemoteValue[],
  may: readonly RemoteRight[],
): RemoteOrder {
  const parts = path.split('/').filter(Boolean)
  const address = ADDRESSES.find(({ path: pattern }) => {
    const wanted = pattern.split('/')
    return wanted.length === parts.length && wanted.every((part, i) => part === '*' || part === parts[i])
  })
  if (!address) throw new RemoteFault(`There is no address “${path.slice(0, 80)}”.`)
  if (!may.includes(address.right)) throw new RemoteFault('This key may not do that.')
  return address.order(view, parts, values)
}
