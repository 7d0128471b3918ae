/** Turns a setting: at the camera, and at those that are turned along; newest value first, never more than one on its way. */
import { type Along, turnedAlong } from '../../core/picture/along'
import type { SettingSpec, SettingValue } from '../../core/picture/settings'
import { fault } from '../basics/notes'
import { live } from '../live/live'
import { order } from '../presets/actions'

interface Way {
  next: SettingValue | null
}

const ways = new Map<string, Way>()

/** One order after the other; of what comes meanwhile only the newest is sent. */
function send(camera: string, key: string, value: SettingValue): void {
  const id = `${camera} ${key}`
  const before = ways.get(id)
  if (before) {
    before.next = value
    return
  }
  const way: Way = { next: null }
  ways.set(id, way)
  const go = async (now: SettingValue): Promise<void> => {
    await order({ t: 'setting', camera, key, value: now })
    const { next } = way
    way.next = null
    if (next !== null) return go(next)
    ways.delete(id)
  }
  void go(value)
}

/** Where a turn of the hand began, here and at the others: what is told meanwhile comes at different times. */
interface Base {
  atMs: number
  before: SettingValue | null
  there: Map<string, SettingValue | null>
}
const bases = new Map<string, Base>()
/** So long without a turn, and the next begins anew, ms. */
const TURN_ENDS_MS = 1500

const told = (camera: string, key: string): SettingValue | null =>
  live().fact('settings', camera)?.[key] ?? null

function baseOf(camera: string, key: string, others: readonly string[]): Base {
  const id = `${camera} ${key}`
  const nowMs = performance.now()
  const known = bases.get(id)
  const goesOn = known && nowMs - known.atMs < TURN_ENDS_MS && others.every((other) => known.there.has(other))
  const base = goesOn
    ? { ...known, atMs: nowMs }
    : {
        atMs: nowMs,
        before: told(camera, key),
        there: new Map(others.map((other) => [other, told(other, key)])),
      }
  bases.set(id, base)
  return base
}

/** @param others cameras that are turned along */
export function turn(
  camera: string,
  spec: SettingSpec,
  after: SettingValue,
  others: readonly string[],
  along: Along,
): void {
  const { key } = spec
  const { before, there } = baseOf(camera, key, others)
  send(camera, key, after)
  for (const other of others) {
    const to = live()
      .fact('able', other)
      ?.settings.find((s) => s.key === key)
    const value = to ? turnedAlong(along, { spec, before, after }, to, there.get(other) ?? null) : null
    if (value !== null) send(other, key, value)
    else if (spec.kind !== 'range')
      fault(`Another camera has no ${spec.label.toLowerCase()} like this one, and was left as it is.`)
  }
}
