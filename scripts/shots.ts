/** Renews docs/screenshots from the demo: `npm run shots`. */
import { join } from 'node:path'
import type { Page } from 'puppeteer-core'
import {
  by,
  centre,
  fill,
  openDesk,
  PHONE,
  press,
  pressIn,
  type Running,
  reads,
  sleep,
  startApplication,
  startBrowser,
  still,
  WIDE,
} from '../e2e/harness'
import { touchRoom } from './lib/touchRoom'

const folder = join(__dirname, '../docs/screenshots')

async function recall(page: Page, running: Running, number: number): Promise<void> {
  await pressIn(page, `tile-${number}`)
  await sleep(300)
  await still(running)
  // Until the focus is there too.
  await sleep(1800)
}

async function main() {
  const [running, browser] = await Promise.all([startApplication(), startBrowser()])
  const shoot = (page: Page, name: string) =>
    page.screenshot({ path: join(folder, `${name}.png`) as `${string}.png` })

  const wide = await openDesk(browser, running, WIDE)
  // Until the video of the benches has come too.
  await sleep(5000)
  await recall(wide, running, 3)
  const next = await centre(wide, 'tile-4')
  await wide.mouse.click(next.x, next.y)
  await sleep(350)
  await shoot(wide, 'desk-wide')
  await still(running)
  await wide.keyboard.press('g')
  await sleep(2500)
  await shoot(wide, 'all-pictures')
  await wide.keyboard.press('g')
  await fetch(`http://${running.net}.20:8070/program?input=3`, { method: 'POST' })
  await fetch(`http://${running.net}.20:8070/preview?input=1`, { method: 'POST' })
  await press(wide, 'on-air')
  await wide.waitForSelector(by('on-air-view'))
  await pressIn(wide, 'tile-1-3')
  await wide.waitForSelector(by('next-ready'), { timeout: 15_000 })
  await shoot(wide, 'on-air-wide')
  const onAir = await openDesk(browser, running, PHONE)
  await press(onAir, 'on-air')
  await onAir.waitForSelector(by('on-air-view'))
  await sleep(2500)
  await shoot(onAir, 'on-air-phone')
  await onAir.close()
  await wide.goto(`${running.address}/setup`)
  await wide.waitForSelector(by('part-Tally'))
  await press(wide, 'part-Tally')
  await sleep(1500)
  await shoot(wide, 'setup-tally')
  await fetch(`http://${running.net}.20:8070/preview?input=7`, { method: 'POST' })
  await fetch(`http://${running.net}.20:8070/program?input=8`, { method: 'POST' })
  await wide.goto(`${running.address}/setup`)
  await wide.waitForSelector(by('row-6'))
  await sleep(1500)
  await shoot(wide, 'setup-cameras')
  const { show: kept } = (await (await fetch(`${running.address}/api/desk`)).json()) as {
    show: { desks: { id: string }[] }
  }
  const helper = await browser.newPage()
  await helper.setViewport(PHONE)
  await helper.goto(`${running.address}/helper?desk=${kept.desks[0]!.id}`)
  await pressIn(helper, 'helper-Avocets')
  await sleep(3500)
  await shoot(helper, 'helper-phone')
  await helper.close()
  const show = (await (await fetch(`${running.address}/api/cues`)).json()) as { id: string; name: string }[]
  await fetch(`${running.address}/api/show/next`, {
    method: 'POST',
    headers: { 'x-steady-heron': '1', 'content-type': 'application/json' },
    body: JSON.stringify({ cue: show.find(({ name }) => name === 'Buzzer')!.id }),
  })
  await wide.goto(`${running.address}/cues`)
  await wide.waitForSelector(by('step-g'))
  await sleep(1500)
  await shoot(wide, 'cues-wide')
  const order = await browser.newPage()
  await order.setViewport(PHONE)
  await order.goto(`${running.address}/cues`)
  await order.waitForSelector(by('order-list'))
  await sleep(1200)
  await shoot(order, 'cues-phone')
  await order.close()
  await wide.goto(`${running.address}/picture`)
  await wide.waitForSelector(by('setting-exposureMode-3'))
  await pressIn(wide, 'setting-exposureMode-3')
  await sleep(2500)
  await shoot(wide, 'picture-wide')
  const tuned = await browser.newPage()
  await tuned.setViewport(PHONE)
  await tuned.goto(`${running.address}/picture`)
  await tuned.waitForSelector(by('slide-iris'))
  await sleep(2500)
  await shoot(tuned, 'picture-phone')
  await tuned.close()
  await wide.goto(`${running.address}/sightlines`)
  await press(wide, 'survey')
  await wide.waitForSelector(by('begin-survey'))
  await press(wide, 'begin-survey')
  await wide.waitForSelector(by('sightlines-map'), { timeout: 240_000 })
  await press(wide, 'seen-round')
  await press(wide, 'label-1')
  await sleep(900)
  await shoot(wide, 'sightlines-wide')
  await still(running)
  await touchRoom(running.address)
  await press(wide, 'open-room')
  await wide.waitForSelector(by('plan-camera-2'))
  await pressIn(wide, 'ask-point-3 Curlews')
  await wide.waitForSelector(by('place-name'))
  await sleep(1500)
  await shoot(wide, 'room-wide')
  await wide.close()

  const taught = await browser.newPage()
  await taught.setViewport(WIDE)
  // As text: what compiles this file puts helpers into functions that a page does not have.
  await taught.evaluateOnNewDocument(`navigator.getGamepads = () => [{
    id: 'Two-stick pad', index: 0, connected: true, mapping: '', timestamp: 0,
    axes: [0.55, -0.2, 0, 0.3], buttons: Array.from({ length: 10 }, () => ({ pressed: false, touched: false, value: 0 })),
  }]`)
  await taught.goto(`${running.address}/setup`)
  await pressIn(taught, 'part-Controls')
  await pressIn(taught, 'curve-kind-drawn')
  await sleep(600)
  await taught.$eval(by('device'), (e) => e.scrollIntoView())
  await sleep(400)
  await shoot(taught, 'setup-controls')
  await taught.close()

  const phone = await openDesk(browser, running, PHONE)
  await recall(phone, running, 6)
  const pad = await centre(phone, 'pad')
  const session = await phone.createCDPSession()
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', touchPoints: { x: number; y: number }[]) =>
    session.send('Input.dispatchTouchEvent', { type, touchPoints })
  await touch('touchStart', [pad])
  await touch('touchMove', [{ x: pad.x - 34, y: pad.y - 22 }])
  await sleep(300)
  await shoot(phone, 'desk-phone')
  await touch('touchEnd', [])
  await sleep(2500)
  await phone.goto(running.address)
  await phone.waitForSelector(by('is-live'))
  await recall(phone, running, 7)
  await pressIn(phone, 'change-presets')
  await pressIn(phone, 'tile-7')
  await pressIn(phone, 'preset-pace-t4')
  await pressIn(phone, 'keep-light')
  await fill(phone, 'preset-memory-number', '7')
  await pressIn(phone, 'into-memory')
  await reads(phone, 'preset-memory', /memory 7/)
  await phone.$eval(by('preset-pace-t4'), (e) => e.scrollIntoView({ block: 'start' }))
  await sleep(6500)
  await shoot(phone, 'preset-sheet')
  await running.faults({})
  await phone.goto(`${running.address}/setup`)
  await pressIn(phone, 'find-cameras')
  await fill(phone, 'find-range', `${running.net}.0/24`)
  await pressIn(phone, 'start-search')
  await reads(phone, 'search-state', /found\.$/, 12_000)
  await shoot(phone, 'find-cameras')
  await pressIn(phone, 'close-sheet')
  await pressIn(phone, 'edit-5')
  await sleep(600)
  await pressIn(phone, 'try-camera')
  await reads(phone, 'outcome', /answers/)
  await phone.$eval(by('outcome'), (e) => e.scrollIntoView({ block: 'center' }))
  await sleep(300)
  await shoot(phone, 'camera-sheet')
  const owner = await browser.newPage()
  await owner.setViewport(WIDE)
  await owner.goto(`${running.address}/setup`)
  await press(owner, 'part-People')
  await fill(owner, 'owner-name', 'Wren')
  await fill(owner, 'owner-password', 'curlews call at dusk')
  await press(owner, 'become-owner')
  await press(owner, 'invite')
  await fill(owner, 'invitation-name', 'Robin, tables')
  await press(owner, `grant-desk-${kept.desks[0]!.id}`)
  await press(owner, 'make-invitation')
  await owner.waitForSelector(by('square-code'))
  await owner.keyboard.press('Escape')
  await press(owner, 'add-person')
  await fill(owner, 'account-name', 'Rook')
  await fill(owner, 'account-password', 'reeds in the wind')
  await press(owner, 'keep-account')
  await owner.waitForSelector(by('person-Rook'))
  // Until the notes have gone.
  await sleep(8000)
  await owner.evaluate(() => document.querySelector('[data-testid="signed-in"]')?.scrollIntoView())
  await shoot(owner, 'setup-people')

  await browser.close()
  await running.stop()
}

main().then(
  () => process.exit(0),
  (error) => {
    console.error(error)
    process.exit(1)
  },
)
