/** Starts the application and a browser for a test, and reads the stand-ins' truth. */
import { type ChildProcess, spawn } from 'node:child_process'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import puppeteer, { type Browser, type Page } from 'puppeteer-core'
import type { Faults } from '../src/simulator/protocol/faults'
import type { Truth } from '../src/simulator/standIn'

export type StandInId = 'gallery' | 'stage-left' | 'lectern' | 'trio' | 'benches' | 'scoreboard'

export interface Running {
  address: string
  sim: string
  /** Of the link that makes the first owner. */
  ownerPath: string | null
  serverPid: number
  databaseUrl: string
  /** The first three numbers of the stand-ins' addresses. */
  net: string
  /** The path of the serial port that the stand-ins make. */
  serial: string
  truth(id?: StandInId): Promise<Truth>
  faults(faults: Partial<Faults>, id?: StandInId): Promise<void>
  /** The processes of the application as they are now; null if one is not running. */
  pids(): Promise<Record<'server' | 'guardian' | 'database' | 'standIns', number | null>>
  /** Lets something go wrong inside the server. Needs HERON_FAULTS=1. */
  fault(fault: 'throw' | 'block' | 'heap'): void
  /** The start command itself. */
  readonly launcher: ChildProcess
  /** Ends the server with a signal and restarts it on the same data. */
  restart(signal: 'SIGTERM' | 'SIGKILL'): Promise<void>
  stop(): Promise<void>
}

export const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))

export async function startApplication(env: Record<string, string> = {}): Promise<Running> {
  const child: ChildProcess = spawn(process.execPath, [join(__dirname, '../scripts/serve.mjs')], {
    env: { ...process.env, ...env },
    stdio: ['pipe', 'pipe', 'inherit'],
  })
  const waiting: ((message: Record<string, unknown>) => void)[] = []
  createInterface({ input: child.stdout! }).on('line', (line) => {
    if (line.startsWith('{')) waiting.shift()?.(JSON.parse(line))
  })
  const next = () => new Promise<Record<string, unknown>>((resolve) => waiting.push(resolve))
  const order = (message: object) => child.stdin!.write(`${JSON.stringify(message)}\n`)
  const first = await next()
  if (first.error) throw new Error(String(first.error))
  const sim = String(first.sim)
  const running: Running = {
    address: String(first.address),
    sim,
    ownerPath: first.ownerPath as string | null,
    serverPid: Number(first.serverPid),
    databaseUrl: String(first.databaseUrl),
    net: String(first.simNet),
    serial: String(first.serial),
    async truth(id = 'gallery') {
      const all = (await (await fetch(`${sim}/truth`)).json()) as Truth[]
      return all.find((t) => t.id === id)!
    },
    async faults(faults, id = 'gallery') {
      const answer = await fetch(`${sim}/cameras/${id}/faults`, {
        method: 'POST',
        body: JSON.stringify(faults),
      })
      if (!answer.ok) throw new Error(await answer.text())
    },
    launcher: child,
    async pids() {
      const answer = next()
      order({ do: 'pids' })
      return (await answer).pids as never
    },
    fault: (fault) => void order({ do: 'fault', fault }),
    async restart(signal) {
      const answer = next()
      order({ do: 'restart', signal })
      running.serverPid = Number((await answer).serverPid)
    },
    async stop() {
      const ended = new Promise((resolve) => child.on('exit', resolve))
      if (child.exitCode !== null || child.signalCode !== null) return
      order({ do: 'stop' })
      await ended
    },
  }
  return running
}

export const PHONE = { width: 390, height: 844, hasTouch: true, isMobile: true, deviceScaleFactor: 1 }
export const WIDE = { width: 1280, height: 800 }

/** @param further arguments of the browser */
export function startBrowser(further: readonly string[] = []): Promise<Browser> {
  return puppeteer.launch({
    executablePath: '/usr/bin/chromium',
    headless: true,
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      ...further,
    ],
  })
}

export const by = (id: string) => `[data-testid="${id}"]`

/** Opens the Desk and waits until its camera answers and its picture is live. */
export async function openDesk(
  browser: Browser,
  running: Running,
  viewport: typeof PHONE | typeof WIDE,
): Promise<Page> {
  const page = await browser.newPage()
  await page.setViewport(viewport)
  await page.goto(running.address)
  await page.waitForSelector(by('is-live'), { timeout: 20_000 })
  await page.waitForSelector(by('framing'), { timeout: 20_000 })
  return page
}

export async function centre(page: Page, id: string): Promise<{ x: number; y: number }> {
  const element = (await page.waitForSelector(by(id)))!
  // What lies below the edge of its list is first brought into it, as a hand would.
  await element.evaluate((e) => e.scrollIntoView({ block: 'nearest', inline: 'nearest' }))
  const box = await element.boundingBox()
  return { x: box!.x + box!.width / 2, y: box!.y + box!.height / 2 }
}

/** Waits until a condition holds; fails with its words when it does not in time. */
export async function eventually(
  what: string,
  test: () => Promise<boolean>,
  withinMs = 20_000,
): Promise<void> {
  const end = Date.now() + withinMs
  while (Date.now() < end) {
    if (await test()) return
    await sleep(50)
  }
  throw new Error(`not within ${withinMs} ms: ${what}`)
}

export const textOf = (page: Page, id: string) =>
  page.$eval(by(id), (element) => element.textContent ?? '').catch(() => '')

export const tileText = (page: Page, number: number) => textOf(page, `tile-${number}`)

/** Waits until the head stands still. */
export async function still(running: Running, id: StandInId = 'gallery'): Promise<Truth> {
  let before = await running.truth(id)
  for (let i = 0; i < 200; i++) {
    await sleep(60)
    const now = await running.truth(id)
    if (!now.moving && !before.moving && now.panDeg === before.panDeg) return now
    before = now
  }
  throw new Error('the head does not come to rest')
}

/** Where it is once it lies still: what loads above it moves it, and a hand would wait as well. */
async function atRest(page: Page, id: string): Promise<{ x: number; y: number }> {
  let before: { x: number; y: number } | null = null
  for (let i = 0; i < 50; i++) {
    // It may be drawn anew in between.
    const at: { x: number; y: number } | null = await centre(page, id).catch(() => null)
    if (at && before && Math.hypot(at.x - before.x, at.y - before.y) < 0.5) return at
    before = at
    await sleep(40)
  }
  return centre(page, id)
}

/** Presses a button of the page by its test id. */
export async function press(page: Page, id: string): Promise<void> {
  const at = await atRest(page, id)
  await page.mouse.click(at.x, at.y)
}

/** Presses it wherever it has scrolled to, whatever note lies over it, and whatever is drawn anew meanwhile. */
export async function tap(page: Page, id: string): Promise<void> {
  await page.waitForSelector(by(id))
  await page.evaluate((selector) => (document.querySelector(selector) as HTMLElement).click(), by(id))
}

/** Types into a field in place of what stands in it. */
export async function fill(page: Page, id: string, text: string): Promise<void> {
  const field = await page.waitForSelector(by(id))
  // Not by a click: what loads above it may move it away meanwhile.
  await field!.evaluate((e) => {
    ;(e as HTMLInputElement).focus()
    ;(e as HTMLInputElement).select()
  })
  await page.keyboard.press('Backspace')
  if (text) await page.keyboard.type(text)
}

/** Presses what may have to be scrolled to first. */
export async function pressIn(page: Page, id: string): Promise<void> {
  const element = await page.waitForSelector(by(id))
  await element!.evaluate((e) => e.scrollIntoView({ block: 'center', inline: 'center' }))
  await press(page, id)
}

/** Lets the page draw what it was last told: a hand that drags pauses before it lets go. */
export const frames = (page: Page) =>
  page.evaluate(
    () => new Promise<void>((done) => requestAnimationFrame(() => requestAnimationFrame(() => done()))),
  )

/** Waits until a text stands there; tells what stood there instead. */
export async function reads(page: Page, id: string, pattern: RegExp, withinMs = 20_000): Promise<void> {
  await eventually(
    `"${id}" reads ${pattern}`,
    async () => pattern.test(await textOf(page, id)),
    withinMs,
  ).catch(async (error: Error) => {
    throw new Error(`${error.message}; it reads "${await textOf(page, id)}"`)
  })
}

/** Presses the button of a note. */
export async function pressNote(page: Page, label: string): Promise<void> {
  const selector = `${by('note')} [role="button"][aria-label="${label}"]`
  const button = await page.waitForSelector(selector)
  await button!.click()
}
