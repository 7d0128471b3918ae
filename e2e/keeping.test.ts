/** What a preset keeps besides its pose, where else it is kept, and how it is gone to. */
import { connect } from 'node:net'
import type { Browser, Page } from 'puppeteer-core'
import { encodeCommand, type ViscaCommand } from '../src/core/visca/commands'
import { apiOf, withApplication } from './application'
import {
  by,
  eventually,
  fill,
  openDesk,
  press,
  pressIn,
  type Running,
  reads,
  sleep,
  still,
  tap,
  textOf,
  tileText,
  WIDE,
} from './harness'
import { button, withPads } from './pads'

let running: Running
let browser: Browser
withApplication((r, b) => {
  ;[running, browser] = [r, b]
})
const { answer, camera, named, presetsOf } = apiOf(() => running)

async function select(page: Page, number: number): Promise<void> {
  await press(page, `camera-${number}`)
  await reads(page, 'stage-title', new RegExp(`^${number} .*ready`), 12_000)
}

async function more(page: Page, ...ids: string[]): Promise<void> {
  await press(page, 'more')
  await page.waitForSelector(by('more-sheet'))
  for (const id of ids) await pressIn(page, id)
}

async function shut(page: Page, sheet: string): Promise<void> {
  await page.keyboard.press('Escape')
  await eventually(`${sheet} is shut`, async () => (await page.$(by(sheet))) === null)
}

const here = (page: Page, number: number) => reads(page, `tile-${number}`, /here/, 25_000)

/** Somebody else at the camera: it is told over a connection of their own. */
async function tell(host: string, commands: readonly ViscaCommand[]): Promise<void> {
  const socket = connect({ host, port: 5678 })
  for (const command of commands) {
    socket.write(encodeCommand(command))
    await sleep(60)
  }
  socket.destroy()
}

test('stored under a typed number, new and over; by a button of a stick; recalled by another', async () => {
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await withPads(page, [{ id: 'Reed Stick', axes: [0, 0, 0, 0], buttons: 4 }])
  await page.goto(`${running.address}/setup`)
  await press(page, 'part-Controls')
  await page.waitForSelector(by('device'))
  for (const [index, action] of (['store', 'recall2'] as const).entries()) {
    await pressIn(page, `button-action-${action}`)
    await pressIn(page, 'teach-button')
    await sleep(150)
    await button(page, 0, index, true)
    await eventually('taught', async () => (await page.$(by('teach-button'))) !== null)
    await button(page, 0, index, false)
  }
  await sleep(900)
  await page.goto(running.address)
  await page.waitForSelector(by('framing'))
  await page.keyboard.type('m42')
  await reads(page, 'typed', /Store as 42/)
  await page.keyboard.press('Enter')
  await page.waitForSelector(by('tile-42'))
  const before = await named('Curlews')
  await page.keyboard.type('m3')
  await page.keyboard.press('Enter')
  await eventually('stored over', async () => (await named('Curlews')).version !== before.version)
  await button(page, 0, 0, true)
  await page.waitForSelector(by('tile-12'))
  await button(page, 0, 0, false)
  await button(page, 0, 1, true)
  await reads(page, 'tile-2', /here|\d s/)
  await button(page, 0, 1, false)
  await here(page, 2)
}, 60_000)

test('exposure and white balance: kept on request, set again by a recall, left alone where that is asked', async () => {
  const page = await openDesk(browser, running, WIDE)
  await select(page, 2)
  const host = `${running.net}.12`
  await tell(host, [
    { kind: 'set', setting: 'exposureMode', value: 3 },
    { kind: 'set', setting: 'iris', value: 9 },
    { kind: 'set', setting: 'whiteBalance', value: 5 },
    { kind: 'set', setting: 'redGain', value: 100 },
  ])
  await more(page, 'with-light')
  await shut(page, 'more-sheet')
  await page.keyboard.type('m50')
  await page.keyboard.press('Enter')
  await page.waitForSelector(by('tile-50'))
  const kept = (await presetsOf('Stage left')).find((p) => p.number === 50)!
  expect(kept.light).toMatchObject({
    exposure: { mode: 'manual', iris: 9 },
    whiteBalance: { mode: 'manual', red: 100 },
  })
  const now = async () => {
    const { exposureMode, iris, redGain } = (await running.truth('stage-left')).eye
    return [exposureMode, iris, redGain]
  }
  const otherwise: ViscaCommand[] = [
    { kind: 'set', setting: 'iris', value: 15 },
    { kind: 'set', setting: 'redGain', value: 140 },
    { kind: 'set', setting: 'exposureMode', value: 0 },
  ]
  await tell(host, otherwise)
  expect(await now()).toEqual([0, 15, 140])
  await press(page, 'tile-50')
  await eventually('as it was', async () => (await now()).join() === '3,9,100')
  await press(page, 'change-presets')
  await press(page, 'tile-50')
  await reads(page, 'preset-light', /exposure by hand, white balance by hand/)
  await pressIn(page, 'part-light')
  await shut(page, 'preset-sheet')
  await press(page, 'change-presets')
  await tell(host, otherwise)
  await press(page, 'tile-50')
  await here(page, 50)
  await sleep(300)
  expect(await now()).toEqual([0, 15, 140])
}, 60_000)

test('the picture is held while the camera travels: the screen says so, and it is live again on arrival', async () => {
  const page = await openDesk(browser, running, WIDE)
  await more(page, 'hold-picture', 'camera-pace-t4')
  await shut(page, 'more-sheet')
  await eventually(
    'kept',
    async () => (await camera()).holdPicture && (await camera()).pace?.kind === 'timed',
  )
  await press(page, 'tile-11')
  await page.waitForSelector(by('is-held'))
  expect(await page.$(by('is-live'))).toBeNull()
  expect((await running.truth()).frozen).toBe(true)
  await here(page, 11)
  await page.waitForSelector(by('is-live'))
  expect((await running.truth()).frozen).toBe(false)
  // A hand lets it run at once.
  await press(page, 'tile-5')
  await page.waitForSelector(by('is-held'))
  await page.keyboard.down('ArrowLeft')
  await eventually('it runs', async () => !(await running.truth()).frozen)
  await page.keyboard.up('ArrowLeft')
  await more(page, 'hold-picture')
  await shut(page, 'more-sheet')
})

test('a pace for one recall alone: it is shown, used, and gone', async () => {
  const page = await openDesk(browser, running, WIDE)
  await press(page, 'tile-11')
  await here(page, 11)
  await press(page, 'pace-once')
  await page.waitForSelector(by('pace-once-sheet'))
  await press(page, 'once-quick')
  await reads(page, 'pace-once', /quick/)
  const from = Date.now()
  await press(page, 'tile-5')
  await here(page, 5)
  // The camera's own pace is four seconds.
  expect(Date.now() - from).toBeLessThan(3500)
  expect(await textOf(page, 'pace-once')).toBe('')
  await answer(`/cameras/${(await camera()).id}/habits`, 'PATCH', { pace: null })
})

test("the camera's own memories: kept in them too, and what is in them already is taken in; stopped by a hand", async () => {
  const page = await openDesk(browser, running, WIDE)
  const first = await named('Scoreboard')
  await press(page, `tile-${first.number}`)
  await here(page, first.number)
  await press(page, 'change-presets')
  await press(page, `tile-${first.number}`)
  await fill(page, 'preset-memory-number', '2')
  await pressIn(page, 'into-memory')
  await eventually('mapped', async () => (await named('Scoreboard')).memory === 2)
  await shut(page, 'preset-sheet')
  expect(await tileText(page, first.number)).toContain('M2')
  // Stored over and undone, the memory holds another pose than the preset: then it is not said to hold it.
  await page.keyboard.down('ArrowLeft')
  await sleep(300)
  await page.keyboard.up('ArrowLeft')
  await still(running)
  await answer(`/presets/${first.id}/shot`, 'PUT', {})
  expect((await named('Scoreboard')).memory).toBe(2)
  await answer(`/presets/${first.id}/version`, 'PUT', { version: first.version })
  expect((await named('Scoreboard')).memory).toBeNull()
  await press(page, 'change-presets')
  await press(page, `tile-${first.number}`)
  await here(page, first.number)
  await answer(`/presets/${first.id}/memory`, 'PUT', { memory: 2 })
  await press(page, 'change-presets')
  await press(page, 'change-presets')
  // Somebody has stored in two more of them before.
  for (const [name, memory] of [
    ['Bitterns', '4'],
    ['Whole barn', '5'],
  ] as const) {
    const preset = await named(name)
    await tap(page, `tile-${preset.number}`)
    await here(page, preset.number)
    await more(page)
    await fill(page, 'memory-number', memory)
    await pressIn(page, 'memory-set')
    await sleep(300)
    await shut(page, 'more-sheet')
  }
  const start = await still(running)
  await more(page)
  await fill(page, 'memories-to', '6')
  await pressIn(page, 'take-memories')
  await reads(page, 'round-1', /of 6/)
  await reads(page, 'round-1', /Done: 3 memories taken in, 3 empty/, 40_000)
  const taken = (await presetsOf()).filter((p) => p.memory !== null)
  expect(taken.map((p) => [p.memory, p.name]).sort()).toEqual([
    [2, 'Scoreboard'],
    [4, 'Memory 4'],
    [5, 'Memory 5'],
  ])
  const bitterns = await named('Bitterns')
  const memory = taken.find((p) => p.memory === 4)!
  expect(Math.abs(memory.pose.panDeg - bitterns.pose.panDeg)).toBeLessThan(0.05)
  expect(memory.pictureId).not.toBeNull()
  // The camera is back where the operator left it.
  await eventually('back', async () => Math.abs((await still(running)).panDeg - start.panDeg) < 0.05)
  await press(page, 'seen-round')

  await press(page, 'change-presets')
  await press(page, 'renew-pictures')
  await press(page, 'begin-renewing')
  await reads(page, 'round-1', /[12] of \d+, [12] pictures? renewed/, 20_000)
  await page.keyboard.down('ArrowLeft')
  await reads(page, 'round-1', /Stopped after .*Somebody else moves the camera/)
  await page.keyboard.up('ArrowLeft')
}, 120_000)

test('all pictures of a camera are renewed, one after the other; each former one is kept', async () => {
  const page = await openDesk(browser, running, WIDE)
  await select(page, 6)
  const before = await presetsOf('Scoreboard')
  await press(page, 'change-presets')
  // Told to stop, the head stands still in the middle of its travel.
  await press(page, 'renew-pictures')
  await press(page, 'begin-renewing')
  await eventually('it travels', async () => (await running.truth('scoreboard')).moving)
  await press(page, 'stop-round')
  await reads(page, 'round-6', /Stopped after/)
  const stood = await still(running, 'scoreboard')
  await sleep(600)
  expect((await running.truth('scoreboard')).panDeg).toBe(stood.panDeg)
  await press(page, 'seen-round')
  await press(page, 'renew-pictures')
  await press(page, 'begin-renewing')
  await reads(page, 'round-6', new RegExp(`Done: ${before.length} pictures renewed`), 40_000)
  const after = await presetsOf('Scoreboard')
  for (const [i, p] of after.entries()) {
    expect(p.pictureId).not.toBe(before[i]!.pictureId)
    expect(p.pose).toEqual(before[i]!.pose)
    expect(await answer<unknown[]>(`/presets/${p.id}/versions`)).toHaveLength(2)
  }
}, 60_000)

test('a camera that does not report its position works by its memories, and says so', async () => {
  await running.faults({ noPosition: true }, 'stage-left')
  const page = await openDesk(browser, running, WIDE)
  await select(page, 2)
  await eventually(
    'the store asks for a memory',
    async () => {
      await press(page, 'store')
      await sleep(200)
      return (await page.$(by('memory-store-sheet'))) !== null
    },
    15_000,
  )
  // Nothing is claimed of where it stands.
  expect(await page.$(by('framing'))).toBeNull()
  await fill(page, 'store-memory-number', '7')
  await press(page, 'store-in-memory')
  const stored = async () => (await presetsOf('Stage left')).find((p) => p.memory === 7)
  await eventually('stored', async () => (await stored()) !== undefined)
  const preset = (await stored())!
  expect(preset.pose).toBeNull()
  const at = await still(running, 'stage-left')
  await page.keyboard.down('ArrowRight')
  await sleep(500)
  await page.keyboard.up('ArrowRight')
  const away = await still(running, 'stage-left')
  expect(Math.abs(away.panDeg - at.panDeg)).toBeGreaterThan(1)
  await press(page, `tile-${preset.number}`)
  await eventually('told', async () => /sent, not seen/.test(await tileText(page, preset.number)))
  expect(Math.abs((await still(running, 'stage-left')).panDeg - at.panDeg)).toBeLessThan(0.05)
  await running.faults({}, 'stage-left')
}, 60_000)
