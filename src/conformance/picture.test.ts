/** Every picture setting of VISCA, and the menu, against a camera that shares no code with the driver. */
import { headProfile } from '../core/heads/registry'
import { MENU } from '../core/picture/settings'
import { type FieldRig, fieldRig } from './fieldRig'
import { connects } from './proof'
import type { Over } from './wayLink'

async function ready(over: Over, odd = {}): Promise<FieldRig> {
  const rig = fieldRig({ over, odd, profile: headProfile('common-20x'), confirmed: true })
  await connects(rig)
  await rig.until(() => 'nearLimit' in rig.body.settings.values, 30_000, 'has read all settings')
  return rig
}

async function perform(rig: FieldRig, key: string, value: string | number | boolean, ms = 900) {
  const done = rig.camera.perform({ t: 'setting', camera: 'c', key, value })
  await rig.clock.run(ms)
  return done
}

/** Key, the mode that takes it, what the desk sets, the code, what the camera must have, and another mode. */
const LEVELS = [
  ['iris', ['exposureMode', '11'], 12, 0x4b, 12, ['exposureMode', '0']],
  ['shutter', ['exposureMode', '10'], 9, 0x4a, 9, ['exposureMode', '11']],
  ['gain', ['exposureMode', '3'], 7, 0x4c, 7, ['exposureMode', '10']],
  ['bright', ['exposureMode', '13'], 20, 0x4d, 20, ['exposureMode', '3']],
  ['redGain', ['whiteBalance', '5'], 200, 0x43, 200, ['whiteBalance', '1']],
  ['blueGain', ['whiteBalance', '5'], 17, 0x44, 17, ['whiteBalance', '0']],
  ['kelvin', ['whiteBalance', '32'], 33, 0x20, 33, ['whiteBalance', '5']],
] as const

test.each(LEVELS)(
  '%s: set in its mode, refused in another with a sentence',
  async (key, mode, value, code, has, other) => {
    const rig = await ready('framed')
    expect(await perform(rig, mode[0], mode[1])).toMatchObject({ ok: true })
    expect(await perform(rig, key, value)).toMatchObject({ ok: true })
    expect(rig.visca.image.values.get(code)).toBe(has)
    expect(await perform(rig, other[0], other[1])).toMatchObject({ ok: true })
    const refused = await perform(rig, key, value)
    expect(refused).toMatchObject({
      ok: false,
      message: expect.stringMatching(/cannot be set now: only with/),
    })
  },
)

const OTHERS = [
  ['backlight', true, 0x33, 0x02],
  ['wideRange', true, 0x3d, 0x02],
  ['compensationOn', true, 0x3e, 0x02],
  ['slowShutter', true, 0x5a, 0x02],
  ['gainLimit', 9, 0x2c, 9],
  ['sharpness', 11, 0x42, 11],
  ['saturation', 3, 0x49, 3],
  ['hue', 14, 0x4f, 14],
  ['gamma', 2, 0x5b, 2],
  ['noiseReduction', 5, 0x53, 5],
  ['brightness', 6, 0xa1, 6],
  ['contrast', 8, 0xa2, 8],
  ['mirror', true, 0x61, 0x02],
  ['flip', true, 0x66, 0x02],
  ['focusSensitivity', '3', 0x58, 0x03],
  ['focusWhen', '2', 0x57, 0x02],
  ['nearLimit', 0x5432, 0x28, 0x5432],
] as const

test('each of the others is set, and read back when it is changed at the camera', async () => {
  const rig = await ready('raw')
  for (const [key, value, code, has] of OTHERS) {
    expect([key, await perform(rig, key, value, 400)]).toEqual([key, { ok: true }])
    expect([key, rig.visca.image.values.get(code)]).toEqual([key, has])
  }
  expect(await perform(rig, 'compensation', 12)).toMatchObject({ ok: true })
  expect(rig.visca.image.values.get(0x4e)).toBe(12)
  // By somebody at its own menu.
  rig.visca.image.values.set(0x49, 13)
  rig.visca.image.values.set(0x66, 0x03)
  await rig.until(() => rig.body.settings.values.saturation === 13, 60_000, 'reads the saturation')
  await rig.until(() => rig.body.settings.values.flip === false, 60_000, 'reads the flip')
})

test.each(['framed', 'tcp', 'serial'] as const)(
  'over %s: a level just after its mode is tried until the mode is there; a knob turned quickly ends where it stands',
  async (over) => {
    const rig = await ready(over)
    rig.visca.image.modeNeedsMs = 300
    const mode = rig.camera.perform({ t: 'setting', camera: 'c', key: 'exposureMode', value: '3' })
    await rig.until(() => rig.body.settings.values.exposureMode === '3', 2000, 'is in its mode')
    expect(await perform(rig, 'iris', 9, 1500)).toMatchObject({ ok: true })
    expect(await mode).toMatchObject({ ok: true })
    expect(rig.visca.image.values.get(0x4b)).toBe(9)
    const turned = Array.from({ length: 17 }, (_, i) =>
      rig.camera.perform({ t: 'setting', camera: 'c', key: 'iris', value: i }),
    )
    await rig.clock.run(1500)
    for (const one of turned) expect(await one).toMatchObject({ ok: true })
    expect(rig.visca.image.values.get(0x4b)).toBe(16)
  },
)

test('one push measures only in its mode; what a head does not know is not offered', async () => {
  const rig = await ready('framed', { visca: { refuses: ['04 20', '04 3d'] } })
  await rig.until(() => !rig.body.settings.specs.some(({ key }) => key === 'kelvin'), 10_000, 'leaves it out')
  const keys = rig.body.settings.specs.map(({ key }) => key)
  expect(keys).toContain('iris')
  expect(keys).not.toContain('kelvin')
  expect(keys).not.toContain('wideRange')
  expect((await perform(rig, 'measureWhite', true)).ok).toBe(false)
  await perform(rig, 'whiteBalance', '3')
  expect(await perform(rig, 'measureWhite', true)).toMatchObject({ ok: true })
  expect(rig.visca.image.measured).toBe(1)
  const none = fieldRig({ over: 'framed', odd: { visca: { pictures: false } } })
  await connects(none)
  await none.clock.run(30_000)
  expect(none.body.settings.specs.filter(({ group, kind }) => group !== 'lens' && kind !== 'act')).toEqual([])
})

test('the menu: opened, walked through by arrows that move no head, closed at the camera and seen', async () => {
  const rig = await ready('framed')
  const press = async (action: 'open' | 'up' | 'down' | 'left' | 'right' | 'enter' | 'back' | 'close') => {
    const done = rig.camera.perform({ t: 'menu', camera: 'c', action })
    await rig.clock.run(700)
    return done
  }
  expect(await press('down')).toMatchObject({ ok: false, message: 'The menu is not open.' })
  expect(await press('open')).toMatchObject({ ok: true })
  expect(rig.body.settings.values[MENU]).toBe(true)
  const at = rig.truth()
  for (const action of ['down', 'down', 'right', 'up', 'left', 'enter', 'back'] as const)
    expect(await press(action)).toMatchObject({ ok: true })
  expect(rig.visca.image.pressed).toEqual(['down', 'down', 'right', 'up', 'left', 'enter', 'back'])
  // A stick that is pushed meanwhile does nothing.
  rig.camera.drive({ pan: 1, tilt: 0, zoom: 0, focus: 0 })
  await rig.clock.run(800)
  rig.camera.drive({ pan: 0, tilt: 0, zoom: 0, focus: 0 })
  expect(rig.truth().pan).toBe(at.pan)
  expect(rig.visca.image.pressed).toHaveLength(7)
  rig.visca.image.menuOpen = false
  await rig.until(() => rig.body.settings.values[MENU] === undefined, 3000, 'sees that it was closed')
})

test('a menu that was open before the server began is seen, and sticks do not run in it', async () => {
  const [open, atFirst] = [{}, { visca: { refusesAtFirst: true } }].map((odd) =>
    fieldRig({ over: 'framed', odd, profile: headProfile('common-20x'), confirmed: true }),
  ) as [FieldRig, FieldRig]
  for (const rig of [open, atFirst]) {
    rig.visca.image.menuOpen = true
    await connects(rig)
    await rig.until(() => rig.body.settings.values[MENU] === true, 6000, 'sees the menu')
  }
  open.camera.drive({ pan: 1, tilt: 0, zoom: 0, focus: 0 })
  await open.clock.run(600)
  open.camera.drive({ pan: 0, tilt: 0, zoom: 0, focus: 0 })
  await open.clock.run(600)
  expect(open.visca.image.pressed).toEqual([])
  const closing = open.camera.perform({ t: 'menu', camera: 'c', action: 'close' })
  await open.clock.run(600)
  expect(await closing).toMatchObject({ ok: true })
  expect(open.visca.image.menuOpen).toBe(false)
})

test('a camera that answers whatever it is asked keeps its sticks', async () => {
  const rig = fieldRig({
    ...{ over: 'framed', profile: headProfile('common-20x'), confirmed: true },
    odd: { visca: { pictures: false, answersAnything: 0x02 } },
  })
  await connects(rig)
  await rig.clock.run(5000)
  expect(rig.body.settings.values[MENU]).toBeUndefined()
})
