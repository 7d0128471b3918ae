/** Camera 1 of the demo as its API has it: recalled, given limits round the tables, surveyed. */
import type { Browser, Page } from 'puppeteer-core'
import { by, eventually, press, type Running, still, textOf, WIDE } from './harness'

export interface Preset {
  id: string
  cameraId: string
  number: number
  name: string
  version: number
  surveyed: boolean
  pictureId: string | null
  pose: { panDeg: number; tiltDeg: number; zoom: number }
}
export interface Camera {
  id: string
  number: number
  limits: Record<string, number | null> | null
}
export interface Survey {
  id: string
  cameraId: string
  takenAt: string
  pictures: number
  seams: { medianPx: number }
  map: { panDeg: number; tiltDeg: number; pxPerDeg: number }
}

export class Gallery {
  constructor(private readonly running: () => Running) {}

  get = async <T>(path: string): Promise<T> =>
    (await (await fetch(`${this.running().address}/api${path}`)).json()) as T

  send = (path: string, method: string, body: object = {}) =>
    fetch(`${this.running().address}/api${path}`, {
      method,
      headers: { 'content-type': 'application/json', 'x-steady-heron': '1' },
      body: JSON.stringify(body),
    })

  desk = () => this.get<{ venue: { id: string }; cameras: Camera[]; presets: Preset[] }>('/desk')

  idOf = async (number: number) => (await this.desk()).cameras.find((one) => one.number === number)!.id

  camera = async () => (await this.desk()).cameras.find(({ number }) => number === 1)!

  /** Those that are stored, of camera 1. */
  async presets(): Promise<Preset[]> {
    const { cameras, presets } = await this.desk()
    const { id } = cameras.find(({ number }) => number === 1)!
    return presets.filter(({ cameraId, pose }) => cameraId === id && pose)
  }

  named = async (name: string) => (await this.presets()).find((p) => p.name === name)!

  async goTo(name: string): Promise<Preset> {
    const preset = await this.named(name)
    // Until the switcher has been heard its camera counts as on air, and is asked about.
    await eventually(
      'it is recalled',
      async () => (await this.send(`/presets/${preset.id}/recall`, 'POST')).ok,
    )
    await eventually(`${name} is reached`, async () => {
      const { panDeg, tiltDeg } = await still(this.running())
      return Math.hypot(panDeg - preset.pose.panDeg, tiltDeg - preset.pose.tiltDeg) < 0.3
    })
    return preset
  }

  /** What keeps a survey short. */
  async limitToTables(): Promise<void> {
    for (const [name, edge] of [
      ['Bitterns', 'left'],
      ['Curlews', 'right'],
      ['Scoreboard', 'up'],
      ['Avocets', 'down'],
    ] as const) {
      const { cameraId } = await this.goTo(name)
      await this.send(`/cameras/${cameraId}/limits`, 'POST', { edge })
    }
    await this.goTo('Godwits')
  }

  /** @param begun looks at what is said while it goes */
  async survey(browser: Browser, begun: (page: Page) => Promise<void> = async () => {}): Promise<Page> {
    const page = await browser.newPage()
    await page.setViewport(WIDE)
    await page.goto(`${this.running().address}/sightlines`)
    await press(page, 'survey')
    await page.waitForSelector(by('begin-survey'))
    await press(page, 'begin-survey')
    await begun(page)
    await page.waitForSelector(by('sightlines-map'), { timeout: 90_000 }).catch(async (error: Error) => {
      throw new Error(`${error.message}; it reads "${await textOf(page, 'round-1')}"`)
    })
    await page.waitForSelector(by('live-frame'))
    return page
  }

  surveys = () => this.get<Survey[]>('/surveys')
}

/** Where a direction is on the screen, from the map's own figures and where its layer lies now. */
export const screenOf = (page: Page, map: Survey['map'], at: { panDeg: number; tiltDeg: number }) =>
  page.evaluate(
    ({ map, at }) => {
      const svg = document.querySelector('[data-testid="sightlines-map"] svg') as SVGSVGElement
      const layer = svg.getBoundingClientRect()
      const scale = layer.width / Number(svg.getAttribute('width'))
      return {
        x: layer.left + (at.panDeg - map.panDeg) * map.pxPerDeg * scale,
        y: layer.top + (map.tiltDeg - at.tiltDeg) * map.pxPerDeg * scale,
      }
    },
    { map, at },
  )
