/** Each address that a program can ask for: what becomes of it, with what right, and what is refused. */
import Papa from 'papaparse'
import { stateBefore } from '../cues/before'
import { sheetCsv, sheetHtml, sheetRows } from '../cues/sheet'
import type { Show } from '../cues/show'
import { NO_SHOW } from '../cues/show'
import { stepText } from '../cues/stepText'
import { cue, recall, step, timed, uuid, world } from '../cues/testing/barn'
import { ADDRESSES, type RemoteView, readRemote } from './addresses'
import { feedbackOf } from './feedback'
import { RIGHT_NAMES } from './settings'

const doors = cue(
  1,
  [step('a', 0, recall(1, 5, timed(4))), step('c', 4, { t: 'switch', action: 'cut', camera: uuid(1) })],
  {
    name: 'Doors',
  },
)
const hidden = cue(2, [], { name: 'Hidden', listed: false })
const buzzer = cue(3, [step('a', 0, recall(2, 7))], { name: '=Buzzer', notes: 'Lights "up", now' })
const show: Show = {
  ...NO_SHOW,
  cues: [doors, hidden, buzzer],
  buttons: [
    { id: uuid(31), order: 1, version: 1, label: 'Go wide', mark: '', does: { t: 'cue', cue: doors.id } },
  ],
}
const view: RemoteView = {
  show,
  cameras: [1, 2].map((n) => ({ id: uuid(n), number: n, name: `Head ${n}` })),
  presets: [{ id: uuid(105), cameraId: uuid(1), number: 5, name: 'Host' }],
}
const ask = (path: string, ...values: (string | number | boolean)[]) =>
  readRemote(view, path, values, RIGHT_NAMES)

test.each([
  ['go', [], '/show/go'],
  ['next', [], '/show/next'],
  ['hold', [1], '/show/hold'],
  ['stop', [], '/stop-all'],
  ['cue/go', ['hidden'], `/cues/${hidden.id}/go`],
  // By its place in the order, where hidden ones have none.
  ['cue/go', [2], `/cues/${buzzer.id}/go`],
  ['button/1', [], `/cues/${doors.id}/go`],
  ['button/go wide', [], `/cues/${doors.id}/go`],
  ['camera/1/recall', ['host'], `/presets/${uuid(105)}/recall`],
  ['camera/1/recall', [5], `/presets/${uuid(105)}/recall`],
  ['camera/1/store', [5], `/presets/${uuid(105)}/shot`],
  ['camera/1/store', [6], '/presets'],
  ['tally/2', ['program'], '/tally/2'],
] as const)('%s %s', (path, values, wanted) => {
  expect(ask(path, ...values)).toMatchObject({ t: 'request', path: wanted })
})

test('driving is held within what a stick can do', () => {
  expect(ask('camera/2/stick', 5, -0.5)).toEqual({
    ...{ t: 'stick', camera: uuid(2) },
    push: { pan: 1, tilt: -0.5, zoom: 0, focus: 0 },
  })
  expect(ask('camera/2/select')).toEqual({ t: 'select', camera: uuid(2) })
})

test.each([
  ['camera/7/recall', [1], /No camera has the number 7/],
  ['camera/1/recall', ['Nobody'], /no preset “Nobody”/],
  ['camera/1/store', ['x'], /number of the preset/],
  ['camera/1/stick', ['fast'], /numbers from -1 to 1/],
  ['tally/1', ['red'], /Tally is/],
  ['cue/go', ['Nothing'], /no cue “Nothing”/],
  ['__proto__', [], /no address/],
] as const)('%s %s is refused in a sentence', (path, values, why) => {
  expect(() => ask(path, ...values)).toThrow(why)
})

test('no address works without its right', () => {
  for (const { path, right } of ADDRESSES) {
    const others = RIGHT_NAMES.filter((one) => one !== right)
    expect(() => readRemote(view, path.replaceAll('*', '1'), ['1'], others)).toThrow(/may not/)
  }
})

test('what a box is told: next, running, tally, presets, buttons', () => {
  const now = {
    ...{ position: null, held: true, tours: [], replays: [], recordings: [], interrupted: [] },
    ...{ last: null, next: null, missed: [] },
    runs: [
      {
        ...{ id: 'r', cue: doors.id, name: 'Doors', state: 'running' as const, intoMs: 0, startedAtMs: 0 },
        ...{ rounds: 0, by: 'Ann', steps: [], out: [] },
      },
    ],
  }
  const told = feedbackOf(view, {
    show: now,
    tally: (id) => (id === uuid(1) ? 'program' : 'off'),
    preset: (id) => (id === uuid(1) ? uuid(105) : null),
  })
  const of = Object.fromEntries(told.map(({ path, values }) => [path, values[0]]))
  expect(of).toMatchObject({
    ...{ '/heron/next': 'Doors', '/heron/running': 'Doors', '/heron/held': 1, '/heron/tally/1': 'program' },
    ...{ '/heron/camera/1/preset': 5, '/heron/camera/2/preset': 0, '/heron/button/1': 1 },
  })
})

test('the order on paper and as CSV: nothing that is typed can become code or a formula', () => {
  const rows = sheetRows(show.cues, (does) => stepText(world(show.cues), does))
  expect(rows.map(({ name }) => name)).toEqual(['Doors', '=Buzzer'])
  expect(rows[0]!.steps).toEqual(['0 s: 1 Head 1 to P5 in 4 s', '4 s: cut to 1 Head 1'])
  const [head, first, second] = Papa.parse<string[]>(sheetCsv(rows).trim()).data
  expect(head).toEqual(['Number', 'Expected', 'Cue', 'Notes', 'Steps'])
  expect(first?.[2]).toBe('Doors')
  expect(second?.slice(2, 4)).toEqual(["'=Buzzer", 'Lights "up", now'])
  const html = sheetHtml('<script>alert(1)</script>', 'Barn', rows)
  expect(html).not.toContain('<script')
})

test('what is to be expected when a cue begins follows from those before it', () => {
  const now = { places: new Map(), program: uuid(3), preview: null }
  const state = stateBefore(world(show.cues), show.cues, buzzer, now)
  expect(state).toMatchObject({ program: uuid(1), preview: uuid(3) })
  expect(state.places.get(uuid(1))).toMatchObject({ panDeg: 0 })
  expect(stateBefore(world(show.cues), show.cues, doors, now).program).toBe(uuid(3))
})
