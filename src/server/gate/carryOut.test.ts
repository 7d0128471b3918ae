import { AS_USUAL } from '../../core/orders/entries'
import { ALL_PARTS, QUICK } from '../../core/presets/pace'
import type { PresetView } from '../../core/presets/preset'
import type { OwnOrder, Recall } from '../cameras/camera'
import type { Member } from '../fleet'
import { carryOut } from './carryOut'

const POSE = { panDeg: 1, tiltDeg: 2, zoom: 3, focusAuto: true, focus: null, encoder: null }
const TIMED = { kind: 'timed' as const, seconds: 4 }
const STEADY = { kind: 'steady' as const, degPerSec: 5 }

function setUp(preset: Partial<PresetView> | null = {}, row: object = {}) {
  const did: unknown[] = []
  const camera = {
    recall: async (recall: Recall) => {
      did.push(recall)
      return { ok: true as const }
    },
    recallMemory: async (id: string, number: number) => {
      did.push(`memory ${id} ${number}`)
      return { ok: true as const }
    },
    perform: async (order: OwnOrder) => {
      did.push(order)
      return { ok: true as const }
    },
  }
  const member = { row: { id: 'c', ...AS_USUAL, holdPicture: false, ...row }, camera } as unknown as Member
  const usual = { id: 'p', pose: POSE, light: null, ...AS_USUAL, parts: ALL_PARTS, memory: null }
  const order = carryOut({
    memberOf: (id) => (id === 'c' ? member : null),
    preset: () => preset && ({ ...usual, ...preset } as PresetView),
    move: () => null,
    look: (look, camera) => void did.push(`look ${look} at ${camera}`),
    startRound: (_, round) => (round.kind === 'pictures' ? null : 'Not now.'),
  })
  return { did, order }
}

const recall = { t: 'recall' as const, preset: 'p', ...AS_USUAL, whole: false }

test.each([
  ['for this once', { pace: STEADY }, { pace: TIMED }, { pace: QUICK }, STEADY],
  ["the preset's own", {}, { pace: TIMED }, { pace: STEADY }, TIMED],
  ["its camera's", {}, {}, { pace: STEADY }, STEADY],
  ['quick where nothing was said', {}, {}, {}, QUICK],
])('the pace of a recall: %s', async (_, asked, preset, row, pace) => {
  const { did, order } = setUp(preset, row)
  expect(await order({ ...recall, ...asked }, 'c')).toEqual({ ok: true })
  expect(did).toMatchObject([{ id: 'p', pose: POSE, pace }])
})

test('a look goes with the recall, but not where the whole of the preset is wanted, or nothing was recalled', async () => {
  const { did, order } = setUp({ look: 'l' })
  await order(recall, 'c')
  expect(did).toMatchObject([{ id: 'p' }, 'look l at c'])
  did.length = 0
  await order({ ...recall, whole: true }, 'c')
  expect(did).toMatchObject([{ id: 'p' }])
  const gone = setUp(null)
  await gone.order(recall, 'c')
  expect(gone.did).toEqual([])
})

test('a recall leaves alone what the preset leaves alone, unless the whole of it is wanted', async () => {
  const parts = { ...ALL_PARTS, zoom: false }
  const { did, order } = setUp({ parts }, { holdPicture: true })
  await order(recall, 'c')
  await order({ ...recall, whole: true }, 'c')
  expect(did).toMatchObject([
    { parts, hold: true },
    { parts: ALL_PARTS, hold: false },
  ])
})

test('a preset without a pose is in a memory of the camera, or nowhere; one that is gone is said to be', async () => {
  const inMemory = setUp({ pose: null, memory: 7 })
  await inMemory.order(recall, 'c')
  expect(inMemory.did).toEqual(['memory p 7'])
  expect(await setUp({ pose: null }).order(recall, 'c')).toMatchObject({ message: /Store it again/ as never })
  expect(await setUp(null).order(recall, 'c')).toMatchObject({ ok: false })
})

test('rounds are begun or refused, a pose is gone to, all else is the camera itself', async () => {
  const { did, order } = setUp()
  const start = (round: object) => order({ t: 'startRound', camera: 'c', round: round as never }, 'c')
  expect(await start({ kind: 'pictures' })).toEqual({ ok: true })
  expect(await start({ kind: 'memories', from: 1, to: 2 })).toEqual({ ok: false, message: 'Not now.' })
  await order({ t: 'goToPose', camera: 'c', ...AS_USUAL, pose: POSE }, 'c')
  const home = { t: 'home' as const, camera: 'c', ...AS_USUAL }
  await order(home, 'c')
  expect(did).toMatchObject([{ id: '', pose: POSE, parts: { light: false } }, home])
  expect(await order(home, 'gone')).toMatchObject({ ok: false, message: /switched off/ as never })
})
