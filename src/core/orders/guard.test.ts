/** The on-air guard: what it makes of every order, in each of its modes. */
import { MAY_ALL } from '../people/may'
import { type Actor, SERVER_ITSELF } from './actors'
import { AS_USUAL } from './entries'
import { guardRule, isGuarded, OFF_AIR } from './guard'
import { GUARD_MODES, type OnAir, USUAL_GUARD } from './guardSettings'
import type { GateOrder } from './verdict'

const by = (kind: Actor['kind']): Actor => ({ kind, id: kind, name: () => kind, may: MAY_ALL })
const camera = { camera: 'c' }
const pose = { panDeg: 0, tiltDeg: 0, zoom: 0, focusAuto: true, focus: null, encoder: null }

/** What ease makes of each. */
const ORDERS: [string, GateOrder, 'eased' | 'asks' | 'free'][] = [
  ['a recall', { t: 'recall', preset: 'p', ...AS_USUAL, whole: false }, 'eased'],
  ['a trust check', { t: 'recall', preset: 'p', ...AS_USUAL, whole: true }, 'eased'],
  ['a pose', { t: 'goToPose', ...camera, ...AS_USUAL, pose }, 'eased'],
  ['an aim', { t: 'aim', ...camera, ...AS_USUAL, u: 0, v: 0 }, 'eased'],
  ['a frame', { t: 'frame', ...camera, ...AS_USUAL, u0: 0, v0: 0, u1: 1, v1: 1 }, 'eased'],
  ['a nudge', { t: 'nudge', ...camera, ...AS_USUAL, right: 0.1, up: 0 }, 'eased'],
  ['a zoom', { t: 'zoomAbout', ...camera, ...AS_USUAL, u: 0, v: 0, factor: 2 }, 'eased'],
  [
    'a recorded move',
    { t: 'replay', ...camera, move: 'm', percent: 100, backwards: false, atLeastSeconds: null },
    'eased',
  ],
  ['home', { t: 'home', ...camera, ...AS_USUAL }, 'eased'],
  ['a full stick', { t: 'stick', push: { pan: 1, tilt: -1, zoom: 1, focus: 1 } }, 'eased'],
  ['a finger', { t: 'finger' }, 'eased'],
  ['a memory', { t: 'memory', ...camera, action: 'recall', number: 1 }, 'asks'],
  ['a round', { t: 'startRound', ...camera, round: { kind: 'pictures' } }, 'asks'],
  ['following', { t: 'followSubject', ...camera, on: true, sensitivity: 1, size: 1 }, 'asks'],
  ['standby', { t: 'power', ...camera, on: false }, 'asks'],
  ['switching on', { t: 'power', ...camera, on: true }, 'free'],
  ['an end of following', { t: 'followSubject', ...camera, on: false, sensitivity: 1, size: 1 }, 'free'],
  ['storing', { t: 'memory', ...camera, action: 'set', number: 1 }, 'free'],
  ['focus', { t: 'focusMode', ...camera, auto: true }, 'free'],
  ['a lamp', { t: 'lamp', ...camera, lamp: 'off' }, 'free'],
]

const at = (onAir: Partial<OnAir> & { mode?: OnAir['guard']['mode'] }) => ({
  name: '3 Lectern',
  id: 'c',
  preset: null,
  holder: null,
  onAir: {
    ...OFF_AIR,
    speed: 0.25,
    ...onAir,
    guard: { ...USUAL_GUARD, ...onAir.guard, mode: onAir.mode ?? 'ease' },
  },
})
const isHand = (order: GateOrder) => order.t === 'stick' || order.t === 'finger'

describe.each(ORDERS)('%s', (_, order, easily) => {
  test.each(['browser', 'api'] as const)('by %s, on air and where that is not known', (kind) => {
    for (const tally of ['program', 'unknown'] as const) {
      const verdict = (mode: OnAir['guard']['mode'], confirmed = false) =>
        guardRule(order, by(kind), at({ tally, mode, confirmed })).is
      const ease = { eased: 'go-changed', asks: 'ask', free: 'go' }[easily]
      expect(verdict('off')).toBe('go')
      expect(verdict('ease')).toBe(ease)
      expect(verdict('ask')).toBe(easily === 'free' ? 'go' : isHand(order) ? 'go-changed' : 'ask')
      expect(verdict('refuse')).toBe(easily === 'free' ? 'go' : 'refuse')
      // Confirmed, it goes as it was asked for; what is refused cannot be confirmed.
      if (!isHand(order)) expect(verdict('ask', true)).toBe('go')
      if (easily === 'asks') expect(verdict('ease', true)).toBe('go')
      if (easily !== 'free') expect(verdict('refuse', true)).toBe('refuse')
    }
  })

  test('off air it is free; on preview only where that is guarded', () => {
    for (const mode of GUARD_MODES) {
      expect(guardRule(order, by('browser'), at({ tally: 'off', mode })).is).toBe('go')
      expect(guardRule(order, by('browser'), at({ tally: 'preview', mode })).is).toBe('go')
      const guarded = { ...USUAL_GUARD, mode, preview: true }
      expect(isGuarded(guarded, 'preview')).toBe(mode !== 'off')
    }
  })

  test('a round has nobody who could confirm, and the server only stops and lights lamps', () => {
    const round = guardRule(order, by('round'), at({ tally: 'program' }))
    expect(round.is).toBe(easily === 'free' ? 'go' : 'refuse')
    expect(guardRule(order, SERVER_ITSELF, at({ tally: 'program', mode: 'refuse' })).is).toBe('go')
  })
})

test('how gently: recalls take the time that was set and no less, shorter moves a part of it, the stick its share', () => {
  const eased = (order: GateOrder) => {
    const verdict = guardRule(order, by('browser'), at({ tally: 'program' }))
    if (verdict.is !== 'go-changed') throw new Error(verdict.is)
    return verdict
  }
  const recall = { t: 'recall' as const, preset: 'p', ...AS_USUAL, whole: false }
  expect(eased(recall)).toMatchObject({ order: { atLeastSeconds: 8 }, why: /on air.*8 s/ as never })
  expect(eased({ ...recall, atLeastSeconds: 20 }).order).toMatchObject({ atLeastSeconds: 20 })
  expect(eased({ t: 'nudge', ...camera, ...AS_USUAL, right: 0.1, up: 0 }).order).toMatchObject({
    atLeastSeconds: 2,
  })
  const push = { pan: 1, tilt: -0.6, zoom: 0.1, focus: 1 }
  expect(eased({ t: 'stick', push }).order).toMatchObject({
    push: { pan: 0.25, tilt: -0.25, zoom: 0.1, focus: 1 },
  })
  // A stick that is pushed no further is left as it is.
  const soft = { t: 'stick' as const, push: { pan: 0.2, tilt: 0, zoom: 0, focus: 0 } }
  expect(guardRule(soft, by('browser'), at({ tally: 'program' }))).toEqual({ is: 'go' })
})

test('a cue is eased where a hand would be asked, and leaves alone what cannot be gentle', () => {
  const cue = by('cue')
  const recall: GateOrder = { t: 'recall', preset: 'p', ...AS_USUAL, whole: false }
  expect(guardRule(recall, cue, at({ mode: 'ask', tally: 'program' }))).toMatchObject({
    is: 'go-changed',
    order: { atLeastSeconds: USUAL_GUARD.seconds },
  })
  expect(guardRule(recall, cue, at({ mode: 'refuse', tally: 'program' })).is).toBe('refuse')
  const memory: GateOrder = { t: 'memory', ...camera, action: 'recall', number: 1 }
  expect(guardRule(memory, cue, at({ mode: 'ease', tally: 'program' }))).toMatchObject({
    is: 'refuse',
    why: expect.stringMatching(/leaves it alone/),
  })
})

test('what is gentle by itself is not said to have been eased', () => {
  const slow: GateOrder = {
    t: 'recall',
    preset: 'p',
    ...AS_USUAL,
    whole: false,
    pace: { kind: 'timed', seconds: 12 },
  }
  expect(guardRule(slow, by('browser'), at({ mode: 'ease', tally: 'program' })).is).toBe('go')
})
