/** Every order, by every kind of actor, against every kind of holder: what the rules say is written out here. */
import * as v from 'valibot'
import { ToServer } from '../live/messages'
import { MAY_ALL, mayOf } from '../people/may'
import { ALL_RIGHTS, EVERYWHERE, type Right, ROLE_NAMES, type Role } from '../people/rights'
import type { Actor, ActorKind } from './actors'
import { AS_USUAL } from './entries'
import { OFF_AIR } from './guard'
import { type CameraOrder, movesCamera, ORDER_NAMES, type OrderName } from './orders'
import { type GateOrder, GO, judge, RULES, type Rule } from './rules'

const actor = (kind: ActorKind, id: string = kind, rights: ReadonlySet<Right> = ALL_RIGHTS): Actor => ({
  kind,
  id,
  name: () => id,
  may: { ...MAY_ALL, rights },
})

const CAMERA = { camera: 'c' }
const ONE_OF_EACH: { [K in OrderName]: CameraOrder & { t: K } } = {
  recall: { t: 'recall', preset: 'p', ...AS_USUAL, whole: false },
  goToPose: {
    t: 'goToPose',
    ...CAMERA,
    ...AS_USUAL,
    pose: { panDeg: 0, tiltDeg: 0, zoom: 0, focusAuto: true, focus: null, encoder: null },
  },
  replay: { t: 'replay', ...CAMERA, move: 'm', percent: 100, backwards: false, atLeastSeconds: null },
  startRound: { t: 'startRound', ...CAMERA, round: { kind: 'pictures' } },
  aim: { t: 'aim', ...CAMERA, u: 0, v: 0, ...AS_USUAL },
  frame: { t: 'frame', ...CAMERA, u0: 0, v0: 0, u1: 1, v1: 1, ...AS_USUAL },
  nudge: { t: 'nudge', ...CAMERA, right: 0.1, up: 0, ...AS_USUAL },
  zoomAbout: { t: 'zoomAbout', ...CAMERA, u: 0, v: 0, factor: 1.2, ...AS_USUAL },
  runSteps: { t: 'runSteps', ...CAMERA, pan: 3, tilt: 0, zoom: 0, seconds: 1 },
  hold: { t: 'hold', ...CAMERA },
  home: { t: 'home', ...CAMERA, ...AS_USUAL },
  memory: { t: 'memory', ...CAMERA, action: 'recall', number: 1 },
  lamp: { t: 'lamp', ...CAMERA, lamp: 'off' },
  followSubject: { t: 'followSubject', ...CAMERA, on: true, sensitivity: 1, size: 1 },
  focusMode: { t: 'focusMode', ...CAMERA, auto: true },
  focusOnce: { t: 'focusOnce', ...CAMERA },
  focusAt: { t: 'focusAt', ...CAMERA, u: 0, v: 0 },
  power: { t: 'power', ...CAMERA, on: false },
  menu: { t: 'menu', ...CAMERA, action: 'open' },
  setting: { t: 'setting', ...CAMERA, key: 'x', value: true },
}
const HANDS: GateOrder[] = [{ t: 'stick', push: { pan: 1, tilt: 0, zoom: 0, focus: 0 } }, { t: 'finger' }]
const UNSEEN: GateOrder[] = [
  { t: 'setting', ...CAMERA, key: 'iris', value: 3 },
  { t: 'lamp', ...CAMERA, lamp: 'program' },
  { t: 'memory', ...CAMERA, action: 'set', number: 1 },
]
const ALL: GateOrder[] = [
  ...Object.values(ONE_OF_EACH).filter(({ t }) => t !== 'lamp' && t !== 'hold' && t !== 'setting'),
  ...HANDS,
]

/** Holder by row, actor by column: may the actor have the camera? */
const MAY: Record<ActorKind, Record<ActorKind, boolean>> = {
  browser: { browser: false, api: false, cue: false, round: false, server: true },
  api: { browser: true, api: false, cue: false, round: false, server: true },
  cue: { browser: true, api: true, cue: false, round: false, server: true },
  round: { browser: true, api: true, cue: true, round: false, server: true },
  server: { browser: false, api: false, cue: false, round: false, server: false },
}
const KINDS = Object.keys(MAY) as ActorKind[]

describe.each(ALL.map((order) => [order.t, order] as const))('%s', (_, order) => {
  test.each(KINDS.flatMap((holder) => KINDS.map((kind) => [kind, holder] as const)))(
    'by %s while %s holds the camera',
    (kind, holder) => {
      const at = { id: 'c', preset: null, name: 'C', holder: actor(holder, 'other'), onAir: OFF_AIR }
      const verdict = judge(RULES, order, actor(kind), at)
      expect(verdict.is).toBe(MAY[holder][kind] ? 'go' : 'refuse')
      if (verdict.is === 'refuse') expect(verdict.why).toMatch(/other drives this camera/)
      // Whose camera it is, and where it is nobody's, it goes.
      expect(judge(RULES, order, actor(kind), { ...at, holder: actor(kind) })).toBe(GO)
      expect(judge(RULES, order, actor(kind), { ...at, holder: null })).toBe(GO)
    },
  )
})

test.each(UNSEEN)(
  'storing in the camera, its lamp and its picture settings disturb nobody who drives: $t',
  (order) => {
    const at = { id: 'c', preset: null, name: 'C', holder: actor('browser', 'other'), onAir: OFF_AIR }
    expect(judge(RULES, order, actor('api'), at)).toBe(GO)
  },
)

test('holding a camera still is never refused to whoever sees it', () => {
  const at = { id: 'c', preset: null, name: 'C', holder: actor('browser', 'other'), onAir: OFF_AIR }
  expect(judge(RULES, ONE_OF_EACH.hold, actor('browser'), at)).toBe(GO)
})

test('without the right to it nothing is done, and that is said before who drives', () => {
  const at = { id: 'c', preset: null, name: 'C', holder: actor('browser', 'other'), onAir: OFF_AIR }
  const needs = (order: GateOrder, rights: Right[]) =>
    judge(RULES, order, actor('browser', 'me', new Set(rights)), { ...at, holder: null }).is
  expect(needs(ONE_OF_EACH.aim, ['picture', 'power'])).toBe('refuse')
  expect(needs(ONE_OF_EACH.aim, ['drive'])).toBe('go')
  expect(needs(ONE_OF_EACH.setting, ['drive', 'power'])).toBe('refuse')
  expect(needs(ONE_OF_EACH.recall, ['drive'])).toBe('refuse')
  expect(needs({ ...ONE_OF_EACH.memory, action: 'set' } as GateOrder, ['recall'])).toBe('refuse')
  expect(needs(ONE_OF_EACH.power, ['drive', 'picture'])).toBe('refuse')
  expect(needs(HANDS[0]!, ['picture'])).toBe('refuse')
  const verdict = judge(RULES, ONE_OF_EACH.aim, actor('browser', 'me', new Set()), at)
  expect(verdict).toMatchObject({ why: expect.stringMatching(/may not/) })
})

test('a rule may change an order, and the rules after it judge the changed one', () => {
  const slower: Rule = (order) =>
    order.t === 'aim' ? { is: 'go-changed', order: { ...order, atLeastSeconds: 4 }, why: 'on air' } : GO
  const seen: GateOrder[] = []
  const watching: Rule = (order) => {
    seen.push(order)
    return GO
  }
  const at = { id: 'c', preset: null, name: 'C', holder: null, onAir: OFF_AIR }
  const verdict = judge([slower, watching], ONE_OF_EACH.aim, actor('browser'), at)
  expect(verdict).toMatchObject({ is: 'go-changed', order: { t: 'aim', atLeastSeconds: 4 } })
  expect(seen).toMatchObject([{ atLeastSeconds: 4 }])
  const asks: Rule = () => ({ is: 'ask', why: 'sure?' })
  expect(judge([slower, asks], ONE_OF_EACH.aim, actor('browser'), at).is).toBe('ask')
})

test('every order in the table comes over the socket as it is written here', () => {
  expect(Object.keys(ONE_OF_EACH).sort()).toEqual([...ORDER_NAMES].sort())
  for (const order of Object.values(ONE_OF_EACH))
    expect(v.parse(ToServer, { ...order, request: 1 })).toEqual({ ...order, request: 1, confirmed: false })
  // What has a usual value may be left out; what is out of range is refused.
  expect(v.parse(ToServer, { t: 'recall', request: 1, preset: 'p' })).toMatchObject({ pace: null })
  expect(v.is(ToServer, { ...ONE_OF_EACH.memory, request: 1, number: 0 })).toBe(false)
  expect(v.is(ToServer, { t: 'swirl', request: 1, camera: 'c' })).toBe(false)
})

/** Who may what, by role: owner, operator, helper, viewer; o, p, h, v for those who may. */
const BY_ROLE: Record<OrderName | 'stick' | 'finger', string> = {
  ...{ recall: 'oph', hold: 'oph', memory: 'oph', goToPose: 'oph', home: 'oph', aim: 'oph', frame: 'oph' },
  ...{ nudge: 'oph', zoomAbout: 'oph', followSubject: 'oph', focusMode: 'oph', focusOnce: 'oph' },
  ...{ focusAt: 'oph', stick: 'oph', finger: 'oph', runSteps: 'oph' },
  ...{ replay: 'op', startRound: 'op', power: 'op', lamp: 'op', menu: 'op', setting: 'op' },
}
const CODES: Record<Role, string> = { owner: 'o', operator: 'p', helper: 'h', viewer: 'v' }

test.each(ROLE_NAMES)('as %s: every order at own and other cameras, on and off air', (role) => {
  const open = { event: null, desk: () => null, cameraOf: () => null }
  const own = '00000000-0000-4000-8000-000000000001'
  const grant = { role, reach: { ...EVERYWHERE, cameras: [own] }, events: {} }
  const me: Actor = { kind: 'browser', id: 'me', name: () => 'me', may: mayOf(grant, open) }
  for (const order of [...Object.values(ONE_OF_EACH), ...HANDS]) {
    const at = { id: own, name: 'C', preset: null, holder: null, onAir: OFF_AIR }
    const may = BY_ROLE[order.t].includes(CODES[role])
    const judged = (camera: object) => judge(RULES, order, me, { ...at, ...camera }).is !== 'refuse'
    expect([order.t, judged({})]).toEqual([order.t, may])
    // An owner reaches all, whatever else is kept.
    expect([order.t, judged({ id: 'other' })]).toEqual([order.t, role === 'owner'])
    const seen = HANDS.includes(order) || movesCamera(order as CameraOrder)
    const live = judged({ onAir: { ...OFF_AIR, tally: 'program' } })
    if (seen) expect([order.t, live]).toEqual([order.t, may && role !== 'helper'])
  }
})

test('whoever may not override the guard cannot confirm what it asks', () => {
  const open = { event: null, desk: () => null, cameraOf: () => null }
  const mayOn = (rights: object) =>
    mayOf({ role: 'helper', reach: { ...EVERYWHERE, rights }, events: {} }, open)
  const asks = { ...OFF_AIR, tally: 'program' as const, guard: { ...OFF_AIR.guard, mode: 'ask' as const } }
  const at = { id: 'c', name: 'C', preset: null, holder: null }
  const of = (rights: object, confirmed: boolean) =>
    judge(
      RULES,
      ONE_OF_EACH.recall,
      { ...actor('browser'), may: mayOn(rights) },
      {
        ...at,
        onAir: { ...asks, confirmed },
      },
    ).is
  expect([of({ onAir: true }, false), of({ onAir: true }, true)]).toEqual(['refuse', 'refuse'])
  const both = { onAir: true, override: true }
  expect([of(both, false), of(both, true)]).toEqual(['ask', 'go'])
})

test('a preset of a heading that is not theirs is refused', () => {
  const open = { event: null, desk: () => null, cameraOf: () => null }
  const may = mayOf({ role: 'helper', reach: { ...EVERYWHERE, sections: ['Tables'] }, events: {} }, open)
  const me: Actor = { ...actor('browser'), may }
  const of = (section: string) =>
    judge(RULES, ONE_OF_EACH.recall, me, {
      ...{ id: 'c', name: 'C', holder: null, onAir: OFF_AIR, preset: { id: 'p', cameraId: 'c', section } },
    }).is
  expect([of('Tables'), of('Trio'), of('')]).toEqual(['go', 'refuse', 'refuse'])
})
