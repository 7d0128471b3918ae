/** Cues by hand: built from nothing, checked, mended, run, stopped; and where the server restarts meanwhile. */
import type { Browser, Page } from 'puppeteer-core'
import type { ShowNow } from '../src/core/cues/now'
import type { CueView } from '../src/core/cues/show'
import { apiOf, withApplication } from './application'
import {
  by,
  eventually,
  fill,
  openDesk,
  PHONE,
  press,
  type Running,
  reads,
  sleep,
  still,
  tap,
  textOf,
  WIDE,
} from './harness'

let running: Running
let browser: Browser
withApplication(
  (r, b) => {
    ;[running, browser] = [r, b]
  },
  { env: { HERON_SIM_PROGRAM: '3,8' } },
)
const { answer, desk, named } = apiOf(() => running)

async function openCues(viewport: typeof WIDE | typeof PHONE): Promise<Page> {
  const page = await browser.newPage()
  await page.setViewport(viewport)
  await page.goto(`${running.address}/cues`)
  await page.waitForSelector(by('order-list'), { timeout: 20_000 })
  return page
}
const cueNamed = async (name: string): Promise<CueView> =>
  (await desk()).show.cues.find((c) => c.name === name)!
const now = () => answer<ShowNow>('/show')
const choose = (page: Page, group: string, label: string) =>
  eventually(`${group} has ${label}`, () =>
    page.evaluate(
      (prefix, words) => {
        const all = [...document.querySelectorAll<HTMLElement>(`[role="radio"][data-testid^="${prefix}-"]`)]
        const one = all.find((e) => e.textContent === words)
        one?.click()
        return one !== undefined
      },
      group,
      label,
    ),
  )

interface NewStep {
  kind: string
  choices: [group: string, label: string][]
  seconds?: string
  at: string
}
async function addStep(page: Page, { kind, choices, seconds, at }: NewStep): Promise<void> {
  await tap(page, 'add-step')
  await page.waitForSelector(by('step-sheet'))
  await choose(page, 'step-kind', kind)
  for (const [group, label] of choices) {
    await choose(page, group, label)
  }
  if (seconds) await fill(page, 'step-seconds', seconds)
  await fill(page, 'step-at', at)
  await press(page, 'keep-step')
  await page.waitForSelector(by('step-sheet'), { hidden: true })
}

test.each([
  ['a wide window', WIDE],
  ['a phone', PHONE],
] as const)(
  'on %s: built by hand, the check finds that it is caught moving, mended, run, stopped half-way',
  async (_, viewport) => {
    const page = await openCues(viewport)
    await tap(page, 'new-cue')
    await reads(page, 'cue-page', /^(All cues)?Cue \d/)
    await tap(page, 'cue-settings')
    await fill(page, 'cue-name', `Buzzer by hand ${viewport.width}`)
    await press(page, 'keep-cue')
    await reads(page, 'cue-page', /Buzzer by hand/)
    const stage: [string, string] = ['step-camera', '2 Stage left']
    await addStep(page, {
      kind: 'Recall a preset',
      choices: [stage, ['step-preset', '4 Host'], ['step-pace', 'Timed']],
      seconds: '4',
      at: '2',
    })
    await addStep(page, {
      kind: 'Switcher',
      choices: [
        ['step-switch', 'Cut'],
        ['step-to', '2 Stage left'],
      ],
      at: '4',
    })
    await addStep(page, {
      kind: 'Send a message',
      choices: [
        ['step-device', 'House lights'],
        ['step-message', 'Stage low'],
      ],
      at: '0',
    })
    const cue = await cueNamed(`Buzzer by hand ${viewport.width}`)
    expect(cue.steps.map(({ does }) => does.t)).toEqual(['recall', 'switch', 'message'])
    await reads(page, 'finding-caught', /on air from 4\.0 s, while it still moves until 6\.0 s/)
    await tap(page, 'mend-caught')
    await page.waitForSelector(by('finding-caught'), { hidden: true })
    expect((await cueNamed(cue.name)).steps[0]!.start.seconds).toBe(0)
    // A change can be undone, and the finding is back; then it is mended again.
    await tap(page, 'undo')
    await page.waitForSelector(by('finding-caught'))
    await tap(page, 'mend-caught')
    await page.waitForSelector(by('finding-caught'), { hidden: true })
    const far = (await named('Bitterns', 'Stage left')).id
    await answer(`/presets/${far}/recall`, 'POST', {})
    await still(running, 'stage-left')
    await sleep(2300)
    await tap(page, 'start-cue')
    await page.waitForSelector(by('play-head'))
    await eventually('it moves', async () => (await running.truth('stage-left')).moving)
    await eventually(
      'the lights go',
      async () => ((await (await fetch(`${running.sim}/house`)).json()) as { stage: number }).stage < 0.9,
    )
    await press(page, 'stop-all')
    await still(running)
    await reads(page, 'note', /all cameras stopped/)
    expect((await now()).runs[0]).toMatchObject({ cue: cue.id, state: 'stopped' })
    const page2 = await (await fetch(`${running.address}/api/show/order.html`)).text()
    expect(page2).toContain(cue.name)
  },
  90_000,
)

test('a step is dragged in time, by the mouse and by the keyboard, and lies where it was let go', async () => {
  const page = await openCues(WIDE)
  const buzzer = await cueNamed('Buzzer')
  await tap(page, 'cue-Buzzer')
  await reads(page, 'cue-page', /Buzzer/)
  const startOf = async (id: string) =>
    (await cueNamed('Buzzer')).steps.find((s) => s.id === id)!.start.seconds
  const before = await startOf('b')
  const step = (await page.waitForSelector(by('step-b')))!
  await step.scrollIntoView()
  const box = (await step.boundingBox())!
  const [x, y] = [box.x + 8, box.y + 20]
  await page.mouse.move(x, y)
  await page.mouse.down()
  for (let i = 1; i <= 10; i++) await page.mouse.move(x + i * 12, y)
  await page.mouse.up()
  await eventually('it is kept', async () => (await startOf('b')) !== before)
  expect(await startOf('b')).toBeGreaterThan(before + 0.9)
  // To halves of a second, or to the ends of others.
  expect(((await startOf('b')) * 10) % 1).toBeCloseTo(0, 6)
  const dragged = await startOf('b')
  await page.focus(by('step-b'))
  await page.keyboard.press('ArrowLeft')
  await eventually('a key moves it', async () => Math.abs((await startOf('b')) - (dragged - 0.5)) < 0.01)
  await tap(page, 'undo')
  await eventually('undone', async () => Math.abs((await startOf('b')) - dragged) < 0.01)
  void buzzer
}, 60_000)

test('what is done by hand on the Desk becomes steps', async () => {
  const known = new Set((await desk()).show.cues.map((c) => c.id))
  const page = await openCues(WIDE)
  await tap(page, 'new-cue')
  await page.waitForSelector(by('cue-page'))
  await reads(page, 'cue-page', /^Cue \d/)
  await tap(page, 'take-steps')
  const { id } = (await desk()).show.cues.find((c) => !known.has(c.id))!
  await page.evaluate(() =>
    ([...document.querySelectorAll('a')].find((a) => a.textContent === 'Desk') as HTMLElement).click(),
  )
  await page.waitForSelector(by('is-live'), { timeout: 20_000 })
  await press(page, 'tile-2')
  await sleep(1200)
  await press(page, 'cut-camera')
  await eventually(
    'both are steps',
    async () => ((await desk()).show.cues.find((c) => c.id === id)?.steps.length ?? 0) === 2,
  )
  const steps = (await desk()).show.cues.find((c) => c.id === id)!.steps
  expect(steps.map(({ does }) => does.t)).toEqual(['recall', 'switch'])
  expect(steps[1]!.start.seconds - steps[0]!.start.seconds).toBeGreaterThan(1)
}, 60_000)

test('Go along the bottom of the Desk; the server restarts in the middle, and the page says so and waits', async () => {
  await answer('/show/next', 'POST', { cue: (await cueNamed('Buzzer')).id })
  const page = await openDesk(browser, running, WIDE)
  await reads(page, 'next-cue', /Buzzer/)
  await page.keyboard.press('q')
  await page.waitForSelector(by(`run-${(await cueNamed('Buzzer')).id}`))
  await sleep(1500)
  await running.restart('SIGKILL')
  await page.waitForSelector(by('interrupted'), { timeout: 20_000 })
  expect(await textOf(page, 'interrupted')).toMatch(/“Buzzer” was interrupted by a restart/)
  const at = await still(running)
  await sleep(1500)
  expect((await running.truth()).panDeg).toBe(at.panDeg)
  await press(page, 'leave-it')
  await page.waitForSelector(by('interrupted'), { hidden: true })
}, 60_000)

test('a sheet stays open while another cue is started, so that what is typed is not taken for keys', async () => {
  const doors = await cueNamed('Doors')
  await answer('/show/next', 'POST', { cue: doors.id })
  const page = await openCues(WIDE)
  await reads(page, 'cue-page', /^Doors/)
  await tap(page, 'cue-settings')
  await page.waitForSelector(by('cue-sheet'))
  await answer(`/cues/${(await cueNamed('Good night')).id}/go`, 'POST')
  await sleep(500)
  await fill(page, 'cue-name', 'Doors, quietly')
  await press(page, 'keep-cue')
  await eventually('it has its name', async () => (await cueNamed('Doors, quietly'))?.id === doors.id)
  expect((await now()).held).toBe(false)
  await answer('/stop-all', 'POST')
}, 60_000)
