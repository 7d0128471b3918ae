/** Picture: exposed by hand over VISCA and ONVIF, white balance, looks, the menu, recording, matching; both sizes. */
import { createSocket } from 'node:dgram'
import type { Browser, Page } from 'puppeteer-core'
import { apiOf, withApplication } from './application'
import {
  by,
  centre,
  eventually,
  openDesk,
  PHONE,
  press,
  pressNote,
  type Running,
  reads,
  type StandInId,
  sleep,
  still,
  tap,
  textOf,
  WIDE,
} from './harness'
import { axis, knob, withMidi, withPads } from './pads'

let running: Running
let browser: Browser
withApplication((r, b) => {
  ;[running, browser] = [r, b]
})
const { ask, answer, desk, presetsOf } = apiOf(() => running)

async function openPicture(size: typeof PHONE | typeof WIDE, camera = 1): Promise<Page> {
  const page = await openDesk(browser, running, size)
  await page.goto(`${running.address}/picture`)
  await page.waitForSelector(by('is-live'), { timeout: 20_000 })
  if (camera !== 1) await tap(page, `camera-${camera}`)
  await tap(page, 'tab-Exposure')
  await page.waitForSelector(by('slide-iris'), { timeout: 20_000 })
  return page
}
async function slide(page: Page, key: string, pressed: string, times: number): Promise<void> {
  await page.waitForSelector(by(`slide-${key}`))
  // Until the page knows that it may be turned, and from where.
  await eventually(`${key} can be turned`, () =>
    page.$eval(
      by(`slide-${key}`),
      (one) =>
        one.getAttribute('aria-disabled') !== 'true' &&
        !/not told/.test(one.getAttribute('aria-valuetext') ?? ''),
    ),
  )
  await page.focus(by(`slide-${key}`))
  for (let i = 0; i < times; i++) await page.keyboard.press(pressed as 'ArrowLeft')
}
const eye = async (id: StandInId = 'gallery') => (await running.truth(id)).eye
const truth = (what: string, id: StandInId, is: (eye: Readonly<Record<string, number>>) => boolean) =>
  eventually(what, async () => is(await eye(id)))
/** Mean of each channel of the live picture, 0..255. */
async function meanOf(page: Page, camera: string): Promise<[number, number, number]> {
  return page.evaluate(
    async (selector) => {
      const canvas = document.querySelector<HTMLCanvasElement>(`${selector} canvas`)!
      const bitmap = await createImageBitmap(canvas)
      const small = document.createElement('canvas')
      small.width = 64
      small.height = 36
      const context = small.getContext('2d')!
      context.drawImage(bitmap, 0, 0, 64, 36)
      const { data } = context.getImageData(0, 0, 64, 36)
      const sums: [number, number, number] = [0, 0, 0]
      for (let i = 0; i < data.length; i += 4) for (const k of [0, 1, 2] as const) sums[k] += data[i + k]!
      return sums.map((sum) => sum / (data.length / 4)) as [number, number, number]
    },
    by(`view-${camera}`),
  )
}
const lightOf = async (page: Page, camera: string) => (await meanOf(page, camera))[1]
/** Red beside blue. */
const warmth = async (page: Page, camera: string) => {
  const [red, , blue] = await meanOf(page, camera)
  return red / blue
}
const idOf = async (number: number) => (await desk()).cameras.find((c) => c.number === number)!.id

test('matched by measurement: another camera is brought to a wall that both see, and back again', async () => {
  const [reference, other] = [await idOf(1), await idOf(2)]
  const at = (camera: string, x: number, y: number) => ({ camera, at: [{ x, y }] })
  const page = await openPicture(WIDE, 2)
  await tap(page, 'tab-White')
  await tap(page, 'setting-whiteBalance-5')
  await truth('by hand', 'stage-left', ({ whiteBalance }) => whiteBalance === 5)
  await slide(page, 'redGain', 'PageUp', 9)
  await slide(page, 'blueGain', 'PageDown', 6)
  await truth('far too red', 'stage-left', ({ redGain, blueGain }) => redGain! > 160 && blueGain! < 110)
  await sleep(700)
  const before = await eye('stage-left')
  const done = (await answer('/match', 'POST', {
    reference: at(reference, 0.3, 0.3),
    others: [at(other, 0.5, 0.15)],
  })) as { undo: string; cameras: { before: number; after: number; seconds: number; why: string | null }[] }
  const [found] = done.cameras
  expect(found!.why).toBeNull()
  expect(found!.after).toBeLessThan(2)
  expect(found!.after).toBeLessThan(found!.before)
  expect(found!.seconds).toBeLessThan(25)
  expect((await eye('stage-left')).whiteBalance).toBe(5)
  await answer(`/looks/undo/${done.undo}`, 'POST', {})
  await truth('as before', 'stage-left', ({ redGain }) => redGain === before.redGain)
  // By hand: what is not touched cannot be matched.
  await tap(page, 'camera-1')
  await tap(page, 'match')
  await page.waitForSelector(by('match-sheet'))
  expect(await page.$eval(by('match-go'), (key) => key.getAttribute('aria-disabled'))).toBe('true')
  for (const [camera, x, y] of [
    [reference, 0.3, 0.3],
    [other, 0.5, 0.15],
  ] as const) {
    const box = (await (await page.$(by(`touch-${camera}`)))!.boundingBox())!
    await page.mouse.click(box.x + x * box.width, box.y + y * box.height)
  }
  await press(page, 'match-go')
  await page.waitForSelector(by('match-undo'), { timeout: 40_000 })
  expect(await textOf(page, 'matched-2')).toMatch(/→/)
}, 120_000)

test('phone, VISCA: what a mode does not take is grey with the reason; by hand it is exposed, finely and coarsely', async () => {
  const page = await openPicture(PHONE)
  const id = await idOf(1)
  await reads(page, 'why-iris', /only with Exposure Manual or Iris/)
  await reads(page, 'value-iris', /f\//)
  // Pressed all the same, nothing is sent.
  const before = (await eye()).iris
  await page.focus(by('slide-iris'))
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowLeft')
  await sleep(300)
  expect((await eye()).iris).toBe(before)
  await tap(page, 'setting-exposureMode-3')
  await truth('manual', 'gallery', ({ exposureMode }) => exposureMode === 3)
  await reads(page, 'value-iris', /^f\/2\.8$/)
  const bright = await lightOf(page, id)
  await slide(page, 'iris', 'ArrowLeft', 4)
  await reads(page, 'value-iris', /^f\/5\.6$/)
  await truth('closed by two stops', 'gallery', ({ iris }) => iris === 9)
  await eventually('the picture is darker', async () => (await lightOf(page, id)) < bright * 0.8)
  await page.keyboard.down('Shift')
  await slide(page, 'gain', 'ArrowRight', 2)
  await page.keyboard.up('Shift')
  await reads(page, 'value-gain', /^16 dB$/)
  // By a thumb: the tape follows it, and a double press goes back to what is usual.
  await page.evaluate(
    (selector) => document.querySelector(selector)!.scrollIntoView({ block: 'center' }),
    by('tape-gain'),
  )
  const at = await centre(page, 'slide-gain')
  await page.mouse.move(at.x, at.y)
  await page.mouse.down()
  await page.mouse.move(at.x + 80, at.y, { steps: 8 })
  await page.mouse.up()
  await eventually('gain was turned down', async () => (await eye()).gain! < 19)
  await page.mouse.click(at.x, at.y, { count: 2, delay: 30 })
  await truth('gain is usual', 'gallery', ({ gain }) => gain === 3)
}, 90_000)

test('wide, ONVIF: ranges asked from the device; two browsers see the same', async () => {
  const [page, other] = [await openPicture(WIDE, 5), await openPicture(WIDE, 5)]
  await tap(page, 'setting-exposureMode-MANUAL')
  await truth('manual', 'benches', ({ exposureMode }) => exposureMode === 3)
  await slide(page, 'shutter', 'ArrowLeft', 2)
  await truth('a shorter time', 'benches', ({ shutter }) => shutter! > 2)
  await reads(page, 'value-shutter', /^1\//)
  const shown = (one: Page) => textOf(one, 'value-shutter')
  // The device may take the nearest time that it has.
  await eventually('both show what it has', async () => (await shown(other)) === (await shown(page)), 15_000)
  await eventually('which is no longer the first', async () => (await shown(other)) !== '1/50')
  await tap(page, 'tab-White')
  await tap(page, 'setting-whiteBalance-MANUAL')
  await reads(page, 'value-redGain', /^\d+$/)
  await slide(page, 'redGain', 'ArrowRight', 3)
  await truth('redder', 'benches', ({ redGain }) => redGain! > 128)
}, 90_000)

/** The barn's own lights, by the bytes of OSC. */
async function light(level: number): Promise<void> {
  const value = Buffer.alloc(4)
  value.writeFloatBE(level)
  const socket = createSocket('udp4')
  for (const path of ['/hall\0\0\0', '/stage\0\0']) {
    const packet = Buffer.concat([Buffer.from(`${path},f\0\0`, 'latin1'), value])
    await new Promise((resolve) => socket.send(packet, 9000, `${running.net}.21`, resolve))
  }
  socket.close()
}

test('a dark barn is exposed by hand, over VISCA on a phone and over ONVIF on a wide screen', async () => {
  await light(0.25)
  for (const [size, camera, manual, stand] of [
    [PHONE, 1, '3', 'gallery'],
    [WIDE, 5, 'MANUAL', 'benches'],
  ] as const) {
    const page = await openPicture(size, camera)
    const id = await idOf(camera)
    await tap(page, `setting-exposureMode-${manual}`)
    await truth('manual', stand, ({ exposureMode }) => exposureMode === 3)
    await sleep(1200)
    const dark = await lightOf(page, id)
    for (let i = 0; i < 12 && (await lightOf(page, id)) < dark * 1.7; i++) {
      await slide(page, 'gain', 'ArrowRight', 2)
      await sleep(700)
    }
    expect((await lightOf(page, id)) / dark).toBeGreaterThan(1.7)
    await page.close()
  }
  await light(1)
}, 120_000)

test('wide: white is measured under the house lights, and measured anew when they are out', async () => {
  const page = await openPicture(WIDE)
  const id = await idOf(1)
  await tap(page, 'tab-White')
  await tap(page, 'setting-whiteBalance-3')
  await truth('one push', 'gallery', ({ whiteBalance }) => whiteBalance === 3)
  const measured = async () => {
    await sleep(800)
    await tap(page, 'setting-measureWhite')
    await sleep(1500)
    return warmth(page, id)
  }
  const full = await measured()
  // Only the windows are left, which are bluer than the lamps.
  await light(0)
  await sleep(3500)
  const dimmed = await warmth(page, id)
  expect(dimmed).toBeLessThan(full * 0.95)
  const again = await measured()
  // What is left is the noise of a picture in the dark.
  expect(Math.abs(again - full)).toBeLessThan(Math.abs(dimmed - full) * 0.4)
  await light(1)
  await page.close()
}, 90_000)

test('wide: a look is kept, all is changed, it is recalled, undone, and exported', async () => {
  const page = await openPicture(WIDE, 2)
  await tap(page, 'setting-exposureMode-3')
  await truth('manual', 'stage-left', ({ exposureMode }) => exposureMode === 3)
  await slide(page, 'iris', 'ArrowLeft', 2)
  await tap(page, 'tab-Image')
  await slide(page, 'saturation', 'ArrowRight', 3)
  await truth('more colour', 'stage-left', ({ saturation }) => saturation === 10)
  await sleep(600)
  const kept = await eye('stage-left')
  await tap(page, 'keep')
  await tap(page, 'tab-Looks')
  await page.waitForSelector(by('look-Look 1'))
  await tap(page, 'tab-Image')
  await slide(page, 'saturation', 'ArrowLeft', 6)
  await slide(page, 'brightness', 'ArrowRight', 2)
  await tap(page, 'tab-Exposure')
  await tap(page, 'setting-exposureMode-0')
  await truth('automatic', 'stage-left', ({ exposureMode }) => exposureMode === 0)
  await sleep(600)
  await tap(page, 'tab-Looks')
  await tap(page, 'open-look-Look 1')
  await reads(page, 'look-plan', /Exposure: Auto → Manual/)
  await tap(page, 'look-recall')
  await truth('as it was kept', 'stage-left', (now) =>
    ['exposureMode', 'iris', 'saturation', 'brightness'].every((key) => now[key] === kept[key]),
  )
  await pressNote(page, 'Undo')
  await truth(
    'undone',
    'stage-left',
    ({ exposureMode, saturation }) => exposureMode === 0 && saturation === 4,
  )
  // With a preset: it goes there, and looks so.
  const wall = (await presetsOf('Stage left'))[0]!
  const look = (await desk()).show.looks[0]!
  await answer(`/presets/${wall.id}`, 'PATCH', { look: look.id })
  await answer(`/presets/${wall.id}/recall`, 'POST', {})
  await truth(
    'as it was kept, again',
    'stage-left',
    ({ saturation, iris }) => saturation === kept.saturation && iris === kept.iris,
  )
  // What it was before stays, to go back to.
  const { id, order, version, ...data } = look
  await answer(`/looks/${id}`, 'PUT', { data: { ...data, name: 'Spoilt' }, version, order })
  const before = (await (await ask(`/looks/${id}/before`)).json()) as { data: { name: string } }[]
  expect(before[0]!.data.name).toBe(look.name)
  await tap(page, 'open-look-Spoilt')
  await tap(page, `use-look-before-${version}`)
  await eventually('as it was named before', async () => (await desk()).show.looks[0]!.name === look.name)
  await page.keyboard.press('Escape')
  const csv = await (await ask('/looks/csv')).text()
  expect(csv).toMatch(/look,camera,group,setting,value,amount,unit/)
  expect(csv).toMatch(/Look 1,2 Stage left,exposure,Exposure,Manual/)
}, 90_000)

test('wide: a look is kept in a file of the camera itself, and what was set before a recall outlasts the server', async () => {
  const page = await openPicture(WIDE)
  await tap(page, 'setting-exposureMode-3')
  await truth('manual', 'gallery', ({ exposureMode }) => exposureMode === 3)
  await slide(page, 'iris', 'ArrowLeft', 3)
  await sleep(600)
  const kept = await eye()
  const iris = await textOf(page, 'value-iris')
  const { length } = (await desk()).show.looks
  await tap(page, 'keep')
  await eventually('kept', async () => (await desk()).show.looks.length > length)
  const { name } = (await desk()).show.looks.at(-1)!
  await tap(page, 'tab-Looks')
  await tap(page, `open-look-${name}`)
  await reads(page, 'own-file-1', /in none of its files/)
  await tap(page, 'file-1-2')
  await tap(page, 'keep-file-1')
  await reads(page, 'own-file-1', /The look is in File 2/)
  await page.keyboard.press('Escape')
  await tap(page, 'tab-Exposure')
  await slide(page, 'iris', 'ArrowRight', 2)
  await truth('opened', 'gallery', ({ iris }) => iris === kept.iris! + 2)
  await sleep(600)
  await tap(page, 'tab-Looks')
  await tap(page, `open-look-${name}`)
  // What it is set to now is not the look: that must not be kept as if it were.
  await reads(page, 'own-file-1', /Recall the look first/)
  await tap(page, 'bring-file-1')
  await truth('as its own file has it', 'gallery', ({ iris }) => iris === kept.iris)
  await page.keyboard.press('Escape')
  await tap(page, 'tab-Exposure')
  // Its settings are read again.
  await eventually('its settings are read again', async () => (await textOf(page, 'value-iris')) === iris)
  await slide(page, 'iris', 'ArrowRight', 2)
  await truth('opened', 'gallery', ({ iris }) => iris === kept.iris! + 2)
  await sleep(600)
  // A fade of a minute, cut short by the end of the server.
  await tap(page, 'tab-Looks')
  const look = (await desk()).show.looks.at(-1)!
  void answer(`/looks/${look.id}/recall`, 'POST', { seconds: 60 }).catch(() => {})
  await sleep(1200)
  await running.restart('SIGKILL')
  await reads(page, 'note', /restarted just as “.*” was recalled/)
  await reads(page, 'former-settings', /cut short/)
  const [newest] = (await (await ask('/looks/former')).json()) as { id: string }[]
  await tap(page, `bring-back-${newest!.id}`)
  await truth('as it was before', 'gallery', ({ iris }) => iris === kept.iris! + 2)
}, 120_000)

test('wide: a spare axis of a stick, and a knob of a MIDI controller, turn the tape that was chosen last', async () => {
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await withPads(page, [{ id: 'Reed Stick', axes: [0, 0, 0, 0], buttons: 2 }])
  await withMidi(page, 'Knobs')
  await page.goto(`${running.address}/setup`)
  await tap(page, 'part-Controls')
  await page.waitForSelector(by('device'))
  await tap(page, 'teach-setting')
  await page.waitForSelector(by('teach-how'))
  await sleep(150)
  await axis(page, 0, 3, 0.95)
  await eventually('learnt', async () => (await page.$(by('teach-how'))) === null)
  await axis(page, 0, 3, 0)
  await tap(page, 'midi')
  await tap(page, 'device-choice-MIDI Knobs')
  await tap(page, 'teach-setting')
  await page.waitForSelector(by('teach-how'))
  await sleep(150)
  await knob(page, 20, 10)
  await sleep(100)
  await knob(page, 20, 120)
  await eventually('learnt', async () => (await page.$(by('teach-how'))) === null)
  await tap(page, 'save-controls')
  await sleep(500)
  // Another page: what was taught is there, without being looked for.
  await page.goto(`${running.address}/picture`)
  await page.waitForSelector(by('is-live'), { timeout: 20_000 })
  await tap(page, 'tab-Exposure')
  await tap(page, 'setting-exposureMode-3')
  await truth('manual', 'gallery', ({ exposureMode }) => exposureMode === 3)
  await slide(page, 'gain', 'ArrowLeft', 1)
  await sleep(600)
  const before = (await eye()).gain!
  await axis(page, 0, 3, 1)
  await truth('turned up by the axis', 'gallery', ({ gain }) => gain! >= before + 2)
  await axis(page, 0, 3, 0)
  await sleep(400)
  const up = (await eye()).gain!
  const { panDeg } = await still(running)
  await knob(page, 20, 60)
  await sleep(200)
  await knob(page, 20, 20)
  await truth('turned down by the knob', 'gallery', ({ gain }) => gain! <= up - 2)
  expect((await still(running)).panDeg).toBe(panDeg)
  await page.close()
}, 90_000)

test('phone: the menu is opened, walked through by keys that drive no head, and closed; on air it asks', async () => {
  const page = await openPicture(PHONE)
  const before = await running.truth()
  await tap(page, 'menu-open')
  await page.waitForSelector(by('menu-bar'))
  expect((await running.truth()).menuOpen).toBe(true)
  await page.keyboard.press('ArrowDown')
  await tap(page, 'menu-right')
  await sleep(500)
  await page.keyboard.press('Escape')
  await eventually('closed', async () => !(await running.truth()).menuOpen)
  await eventually('and said so', async () => (await page.$(by('menu-bar'))) === null)
  const after = await running.truth()
  expect([after.panDeg, after.tiltDeg]).toEqual([before.panDeg, before.tiltDeg])
  await answer('/tally/1', 'POST', { state: 'program' })
  await sleep(300)
  await tap(page, 'menu-open')
  await page.waitForSelector(by('guard-asks'))
  expect((await running.truth()).menuOpen).toBe(false)
  await answer('/tally/1', 'POST', { state: 'off' })
}, 60_000)

test('phone: a setting that makes the camera start anew asks first, and the camera comes back by itself', async () => {
  const page = await openPicture(PHONE)
  await tap(page, 'tab-Image')
  await tap(page, 'setting-format-1')
  await page.waitForSelector(by('guard-asks'))
  expect((await eye()).format).toBe(0)
  const hold = await centre(page, 'guard-hold')
  await page.mouse.move(hold.x, hold.y)
  await page.mouse.down()
  await truth('another format', 'gallery', ({ format }) => format === 1)
  await page.mouse.up()
  const state = async () =>
    ((await answer('/health')) as { cameras: { id: string; health: { state: string } }[] }).cameras.find(
      ({ id }) => id === gallery,
    )!.health.state
  const gallery = await idOf(1)
  await eventually('it is away', async () => (await state()) !== 'ready')
  await eventually('it is back', async () => (await state()) === 'ready', 20_000)
  await page.waitForSelector(by('setting-format-1'))
}, 60_000)

test('wide: recording starts and stops, alone and in all that can; one that does not tell is not confirmed', async () => {
  const page = await openPicture(WIDE)
  await tap(page, 'record')
  await truth('records', 'gallery', ({ recording }) => recording === 1)
  await reads(page, 'record', /^Recording 0:0\d$/)
  await tap(page, 'record')
  await truth('has stopped', 'gallery', ({ recording }) => recording === 0)
  await reads(page, 'record', /^Record$/)
  await tap(page, 'record-all')
  for (const id of ['gallery', 'stage-left', 'scoreboard'] as const)
    await truth(`${id} records`, id, ({ recording }) => recording === 1)
}, 60_000)
