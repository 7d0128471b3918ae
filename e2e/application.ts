/** One application and one browser for all tests of a file, and its API for what is not done by hand. */
import type { Browser } from 'puppeteer-core'
import type { Aimed, PresetPose } from '../src/core/presets/pose'
import type { CameraView, DeskView, PresetView } from '../src/server/api'
import { type Running, sleep, startApplication, startBrowser } from './harness'

/** Closes all pages, and waits until the server knows: until then each keeps the camera that it drove. */
export async function closePages(browser: Browser, running: Running): Promise<void> {
  for (const page of await browser.pages()) if (page.url().startsWith('http')) await page.close()
  const open = async () => {
    const answer = await fetch(`${running.address}/api/health`).catch(() => null)
    return answer?.ok ? ((await answer.json()) as { pages: number }).pages : 0
  }
  for (let i = 0; i < 50 && (await open()) > 0; i++) await sleep(40)
}

interface Settings {
  env?: Record<string, string>
  /** Pages stay open from test to test. */
  keepPages?: boolean
}

/** @param begin is given both before the first test */
export function withApplication(
  begin: (running: Running, browser: Browser) => void | Promise<void>,
  { env, keepPages = false }: Settings = {},
): void {
  let running: Running | undefined
  let browser: Browser | undefined
  beforeAll(async () => {
    ;[running, browser] = await Promise.all([startApplication(env), startBrowser()])
    await begin(running, browser)
  }, 60_000)
  afterAll(async () => {
    await browser?.close()
    await running?.stop()
  }, 20_000)
  if (!keepPages) afterEach(() => closePages(browser!, running!))
}

export type Posed = PresetView & { pose: PresetPose & Aimed }

export function apiOf(running: () => Running) {
  const ask = (path: string, method = 'GET', body?: unknown, headers: Record<string, string> = {}) =>
    fetch(`${running().address}/api${path}`, {
      method,
      headers: {
        'x-steady-heron': '1',
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      body: body === undefined ? undefined : JSON.stringify(body),
    })
  const answer = async <T>(path: string, method = 'GET', body?: unknown): Promise<T> => {
    const response = await ask(path, method, body)
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`)
    return (await response.json()) as T
  }
  const desk = () => answer<DeskView>('/desk')
  const camera = async (name = 'Gallery'): Promise<CameraView> =>
    (await desk()).cameras.find((c) => c.name === name)!
  const presetsOf = async (name = 'Gallery'): Promise<Posed[]> => {
    const view = await desk()
    const { id } = view.cameras.find((c) => c.name === name)!
    return view.presets.filter((p) => p.cameraId === id) as Posed[]
  }
  const named = async (name: string, of = 'Gallery'): Promise<Posed> =>
    (await presetsOf(of)).find((p) => p.name === name)!
  return { ask, answer, desk, camera, presetsOf, named }
}
