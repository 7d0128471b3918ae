/** The server is killed at random moments while presets are stored: what was confirmed is there, whole. */
import pg from 'pg'
import type { Browser, Page } from 'puppeteer-core'
import { seeded } from '../src/core/seeded'
import type { Stored } from '../src/server/api'
import { apiOf, withApplication } from './application'
import { openDesk, PHONE, type Running, sleep } from './harness'

const STORES = 200
const KILLS = 5

let running: Running
let browser: Browser
withApplication((r, b) => {
  ;[running, browser] = [r, b]
})
const { answer, ask, desk } = apiOf(() => running)

interface Confirmed {
  cameraId: string
  number: number
  /** Of a camera that has only just come back it may be told that it sent none. */
  picture: boolean
}

/** Stores as the operator does, by the key; what the screen says counts. */
async function byHand(page: Page, cameraId: string, goesOn: () => boolean, confirm: (c: Confirmed) => void) {
  const seen = new Set<number>()
  while (goesOn()) {
    await page.keyboard.press('s')
    for (let i = 0; i < 15; i++) {
      await sleep(100)
      const text = await page.evaluate(() => document.body.innerText)
      const said = [...text.matchAll(/Stored as preset (\d+)/g)].map((m) => Number(m[1]))
      const fresh = said.filter((n) => !seen.has(n))
      for (const number of fresh) {
        seen.add(number)
        confirm({ cameraId, number, picture: !text.includes('without a picture') })
      }
      if (fresh.length > 0) break
    }
  }
  return seen.size
}

async function byRequest(cameraId: string, goesOn: () => boolean, confirm: (c: Confirmed) => void) {
  while (goesOn()) {
    try {
      const { preset } = await answer<Stored>('/presets', 'POST', { cameraId })
      confirm({ cameraId, number: preset.number, picture: preset.pictureId !== null })
    } catch {
      // The server is down, or its cameras are not there yet: asked again.
      await sleep(120)
    }
  }
}

/** Rows that belong to nothing, or are not whole. */
async function halfWritten(): Promise<unknown[]> {
  const client = new pg.Client({ connectionString: running.databaseUrl })
  await client.connect()
  const { rows } = await client.query(`
    select p.id from preset p
      left join preset_version v on v.preset_id = p.id and v.version = p.current_version
      left join picture i on i.id = v.picture_id
      where v.preset_id is null or v.pan_deg is null
        or (v.picture_id is not null and (i.id is null or length(i.jpeg) < 500))
    union all
    select i.id from picture i where not exists (select 1 from preset_version v where v.picture_id = i.id)`)
  await client.end()
  return rows
}

test(`killed ${KILLS} times during ${STORES} stores: what was confirmed is there with its picture, and nothing half`, async () => {
  const { cameras } = await desk()
  const page = await openDesk(browser, running, PHONE)
  const confirmed: Confirmed[] = []
  const goesOn = () => confirmed.length < STORES
  const confirm = (c: Confirmed) => confirmed.push(c)
  const others = cameras.slice(1).map((c) => byRequest(c.id, goesOn, confirm))
  const hand = byHand(page, cameras[0]!.id, goesOn, confirm)
  const random = seeded(17)
  for (let i = 0; i < KILLS; i++) {
    const until = ((i + 0.2 + 0.8 * random()) * STORES) / (KILLS + 1)
    while (confirmed.length < until) await sleep(1)
    await sleep(random() * 120)
    await running.restart('SIGKILL')
  }
  const [storedByHand] = await Promise.all([hand, ...others])
  expect(storedByHand).toBeGreaterThan(5)
  const { presets } = await desk()
  const there = new Map(presets.map((p) => [`${p.cameraId} ${p.number}`, p]))
  const missing = confirmed.filter(({ cameraId, number, picture }) => {
    const preset = there.get(`${cameraId} ${number}`)
    return !preset || (picture && !preset.pictureId)
  })
  expect(missing).toEqual([])
  expect(confirmed.filter((c) => c.picture).length).toBeGreaterThan(STORES / 2)
  expect(await halfWritten()).toEqual([])
  for (const p of presets.filter((one) => one.pictureId).slice(-40)) {
    const jpeg = Buffer.from(await (await ask(`/pictures/${p.pictureId}`)).arrayBuffer())
    expect([jpeg.readUInt16BE(0), jpeg.readUInt16BE(jpeg.length - 2)]).toEqual([0xffd8, 0xffd9])
  }
}, 180_000)
