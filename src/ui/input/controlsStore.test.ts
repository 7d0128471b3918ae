/** Controls that are changed while the server is slow, or away. */
import { USUAL_CONTROLS } from '../../core/controls/controls'
import type { PersonView } from '../../server/api'

const person = (id: string, nudge: number) =>
  ({ id, name: id, controls: { ...USUAL_CONTROLS, nudge } }) as unknown as PersonView

const mockServer = {
  sent: [] as { id: string; nudge: number }[],
  faults: [] as string[],
  answers: true,
  persons: [person('anna', 0.02), person('ben', 0.05)],
}

jest.mock('../api/client', () => ({
  readPersons: async () => mockServer.persons,
  putControls: async (id: string, controls: { nudge: number }) => {
    if (!mockServer.answers) throw new Error('The server does not answer.')
    mockServer.sent.push({ id, nudge: controls.nudge })
  },
}))
jest.mock('../basics/notes', () => ({ fault: (text: string) => mockServer.faults.push(text) }))
jest.mock('../live/live', () => ({ live: () => ({ introduce: () => {} }) }))

import { changeControls, changeFeel, choosePerson, controlsNow, loadPersons } from './controlsStore'

beforeEach(() => {
  jest.useFakeTimers()
  mockServer.sent = []
  mockServer.faults = []
  mockServer.answers = true
})
afterEach(() => jest.useRealTimers())

const nudge = (value: number) => changeControls((c) => ({ ...c, nudge: value }) as typeof c)

test('what changes acts at once and is sent once it rests', async () => {
  await loadPersons()
  expect(controlsNow().nudge).toBe(0.02)
  for (const value of [0.03, 0.04, 0.06]) {
    nudge(value)
    expect(controlsNow().nudge).toBe(value)
    await jest.advanceTimersByTimeAsync(300)
  }
  expect(mockServer.sent).toEqual([])
  await jest.advanceTimersByTimeAsync(500)
  expect(mockServer.sent).toEqual([{ id: 'anna', nudge: 0.06 }])
})

test('what could not be kept is said, is not lost, and goes with the next change', async () => {
  mockServer.answers = false
  nudge(0.08)
  await jest.advanceTimersByTimeAsync(600)
  expect(mockServer.faults).toEqual([expect.stringMatching(/not kept yet: The server does not answer/)])
  // Read again meanwhile: what was changed here is newer.
  await loadPersons()
  expect(controlsNow().nudge).toBe(0.08)
  mockServer.answers = true
  changeFeel('camera', { pan: 0.5 })
  await jest.advanceTimersByTimeAsync(600)
  expect(mockServer.sent).toEqual([{ id: 'anna', nudge: 0.08 }])
  expect(controlsNow().byCamera.camera).toMatchObject({ pan: 0.5 })
})

test('another person sits down: the first one’s changes are kept before', async () => {
  nudge(0.09)
  mockServer.persons = [person('anna', 0.09), person('ben', 0.05)]
  await choosePerson('ben')
  expect(mockServer.sent).toEqual([{ id: 'anna', nudge: 0.09 }])
  expect(controlsNow().nudge).toBe(0.05)
})
