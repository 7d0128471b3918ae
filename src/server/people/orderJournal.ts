/** What the log says of orders at the gate. */
import type { Actor } from '../../core/orders/actors'
import { type CameraOrder, movesCamera } from '../../core/orders/orders'
import type { CameraResult } from '../cameras/camera'
import type { NewLine } from './journal'

export interface OrderNames {
  /** Number and name; '' for one that is gone. */
  camera(id: string): string
  preset(id: string): string
  move(id: string): string
}

const WORDS: { readonly [K in CameraOrder['t']]?: string } = {
  goToPose: 'Went to a pose',
  aim: 'Aimed',
  frame: 'Framed',
  nudge: 'Nudged',
  zoomAbout: 'Zoomed about a point',
  home: 'Went home',
  startRound: 'Sent on a round',
  runSteps: 'Driven by steps',
  hold: 'Stopped',
}

function said(order: CameraOrder, names: OrderNames): Pick<NewLine, 'kind' | 'what'> | null {
  switch (order.t) {
    case 'recall':
      return { kind: 'recall', what: `Recalled ${names.preset(order.preset)}` }
    case 'memory':
      return order.action === 'set'
        ? { kind: 'store', what: `Stored in the camera’s memory ${order.number}` }
        : { kind: 'recall', what: `Recalled the camera’s memory ${order.number}` }
    case 'replay':
      return { kind: 'cue', what: `Played ${names.move(order.move)}` }
    case 'power':
      return { kind: 'camera', what: order.on ? 'Switched on' : 'Switched to standby' }
    case 'followSubject':
      return { kind: 'drive', what: order.on ? 'Follows a subject by itself' : 'Follows nobody any more' }
    case 'menu':
      return order.action === 'open' ? { kind: 'picture', what: 'Opened its menu' } : null
    default: {
      const what = WORDS[order.t]
      return what && (movesCamera(order) || order.t === 'hold') ? { kind: 'drive', what } : null
    }
  }
}

/** @returns null where it is not worth a line, as a picture setting or a lamp */
export function lineOf(
  order: CameraOrder,
  camera: string,
  actor: Actor,
  { result, confirmed }: { result: CameraResult; confirmed: boolean },
  names: OrderNames,
): NewLine | null {
  if (actor.kind === 'server' || actor.kind === 'round') return null
  const line = said(order, names)
  if (!line) return null
  const asked = !result.ok && result.ask === true
  // Done in another way than asked: eased, as its camera is on air.
  const eased = result.ok && result.said ? ` (${result.said.replace(/\.$/, '')})` : ''
  return {
    ...{ person: actor.name(), camera: names.camera(camera) },
    kind: asked || confirmed || eased !== '' ? 'guard' : line.kind,
    what: `${line.what}${confirmed ? ', confirmed' : ''}${eased}`,
    refused: result.ok ? null : result.message,
  }
}
