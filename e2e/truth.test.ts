/** What the hand asks for, against where the stand-ins' heads truly go. */
import WebSocket from 'ws'
import { headProfile } from '../src/core/heads/registry'
import { nearTurn } from '../src/core/optics/aim'
import { createLens } from '../src/core/optics/lens'
import { pointOf, rayAt, type View } from '../src/core/optics/sphere'
import { seeded } from '../src/core/seeded'
import type { DeskView } from '../src/server/api'
import type { Truth } from '../src/simulator/standIn'
import { eventually, type Running, type StandInId, sleep, startApplication, still } from './harness'

let running: Running
let live: WebSocket
let cameras: DeskView['cameras']
const results = new Map<number, (message: { ok: boolean; message: string | null }) => void>()
let request = 1

beforeAll(async () => {
  running = await startApplication()
  cameras = ((await (await fetch(`${running.address}/api/desk`)).json()) as DeskView).cameras
  live = new WebSocket(`${running.address.replace('http', 'ws')}/live`, { origin: running.address })
  live.on('message', (data) => {
    const message = JSON.parse(String(data))
    if (message.t === 'result') results.get(message.request)?.(message)
  })
  await new Promise((resolve) => live.once('open', resolve))
  await eventually('all are ready', async () => {
    const health = await (await fetch(`${running.address}/api/health`)).json()
    return (health as { cameras: { health: { state: string } }[] }).cameras.every(
      (c) => c.health.state === 'ready',
    )
  })
}, 60_000)
afterAll(async () => {
  live?.terminate()
  await running?.stop()
}, 20_000)

const idOf = (name: string) => cameras.find((c) => c.name === name)!.id
const send = (message: object) => live.send(JSON.stringify(message))
function ask(message: object): Promise<{ ok: boolean; message: string | null }> {
  const id = request++
  return new Promise((resolve) => {
    results.set(id, resolve)
    send({ ...message, request: id })
  })
}

const GALLERY = createLens(headProfile('marsh-20x').lens)
/** What a head that stands so sees; one that hangs upside down has its picture turned in the camera. */
function viewOf(truth: Truth, lens = GALLERY, sign = 1): View {
  return {
    panDeg: sign * truth.panDeg,
    tiltDeg: sign * truth.tiltDeg,
    hfovDeg: truth.hfovDeg,
    vfovDeg: lens.vfovDeg(truth.zoomPos),
  }
}

interface Listed {
  panDeg: number
  tiltDeg: number
  magnification: number
  focusAuto: boolean
  focus: number | null
}

/** A preset that a list has put there. @returns its id */
async function listed(camera: number, name: string, pose: Listed): Promise<string> {
  const preset = { camera, number: 990, name, ...pose }
  const taken = await fetch(`${running.address}/api/presets/list`, {
    method: 'POST',
    headers: { 'x-steady-heron': '1' },
    body: JSON.stringify({ format: 'steady-heron/presets', version: 1, presets: [preset] }),
  })
  expect(taken.status).toBe(200)
  const { presets } = (await (await fetch(`${running.address}/api/desk`)).json()) as DeskView
  return presets.find((p) => p.name === name)!.id
}

/** Brings the gallery's head anywhere. */
async function bring(panDeg: number, tiltDeg: number, zoom: number): Promise<void> {
  const magnification = GALLERY.magnification(zoom)
  const here = await listed(1, 'Here', { panDeg, tiltDeg, magnification, focusAuto: true, focus: null })
  expect(await ask({ t: 'recall', preset: here })).toMatchObject({ ok: true })
  await sleep(150)
  await still(running)
}

/** Where the head stands when the move has begun and ended, and the server knows it. */
async function settled(id: StandInId = 'gallery', beginsMs = 120): Promise<Truth> {
  await sleep(beginsMs)
  const truth = await still(running, id)
  await sleep(330)
  return truth
}

/**
 * Where the head stands after a move in a given time. Near its end such a move is slower than the head's slowest
 * step, so the head may stand for a moment between two steps: only a rest of 600 ms is the end.
 * @returns also how long after the call the head last moved, ms
 */
async function ended(id: StandInId): Promise<{ truth: Truth; ms: number }> {
  const from = Date.now()
  let truth = await running.truth(id)
  let ms = 0
  for (let i = 0; i < 400; i++) {
    await sleep(30)
    const now = await running.truth(id)
    const moved = now.moving || now.panDeg !== truth.panDeg || now.tiltDeg !== truth.tiltDeg
    truth = now
    if (moved) ms = Date.now() - from
    else if (Date.now() - from - ms > 600) return { truth, ms }
  }
  throw new Error('the head does not come to rest')
}

test('Aim brings any touched point to within half a percent of the width, at every tilt and zoom', async () => {
  const random = seeded(31)
  const gallery = idOf('Gallery')
  for (const [tilt, zoom] of [
    [-25, 0],
    [-10, 6000],
    [10, 12_000],
    [30, 16_384],
    [55, 9000],
    [75, 3000],
  ] as const) {
    await bring(random() * 60 - 30, tilt, zoom)
    for (let i = 0; i < 2; i++) {
      const before = viewOf(await settled())
      const [u, v] = [random() * 1.9 - 0.95, random() * 1.9 - 0.95]
      const target = rayAt(before, u, v)
      expect(await ask({ t: 'aim', camera: gallery, u, v, pace: null })).toMatchObject({ ok: true })
      const after = viewOf(await settled())
      // Beyond the head's own range it cannot be brought to the centre.
      if (Math.asin(target[1]) * (180 / Math.PI) < -29.9 || Math.asin(target[1]) * (180 / Math.PI) > 89.9)
        continue
      const at = pointOf(after, target)!
      expect(Math.hypot(at.u / 2, (at.v / 2) * (9 / 16))).toBeLessThan(0.005)
      if (after.tiltDeg > 80) break
    }
  }
}, 180_000)

test('Aim on a camera that hangs upside down, over serial; on ONVIF; on a rig; and in a given time', async () => {
  for (const [name, id, profile, sign] of [
    ['Interval trio', 'trio', 'sedge-10x', -1],
    ['Benches', 'benches', 'mere-18x', 1],
    ['Scoreboard', 'scoreboard', 'staithe-30x', 1],
  ] as const) {
    const lens = createLens(headProfile(profile).lens)
    const before = viewOf(await settled(id), lens, sign)
    // Upwards: the dome stands at the lower end of its range.
    const target = rayAt(before, 0.6, 0.4)
    expect(
      await ask({ t: 'aim', camera: idOf(name), u: 0.6, v: 0.4, pace: { kind: 'timed', seconds: 3 } }),
    ).toMatchObject({
      ok: true,
    })
    const { truth, ms } = await ended(id)
    const after = viewOf(truth, lens, sign)
    const at = pointOf(after, target)!
    expect(Math.hypot(at.u / 2, (at.v / 2) * (9 / 16))).toBeLessThan(0.005)
    // ONVIF has no speed that would be known in degrees a second.
    if (name !== 'Benches') expect(ms).toBeGreaterThan(2000)
  }
}, 60_000)

test('Frame fills the picture with a box of it, within two percent', async () => {
  const random = seeded(5)
  const gallery = idOf('Gallery')
  for (const seconds of [null, 3, null]) {
    await bring(random() * 40 - 20, random() * 30 - 20, 2000)
    const before = viewOf(await settled())
    const [u0, v0] = [random() * 1.2 - 0.9, random() * 1.2 - 0.9]
    const box = { u0, v0, u1: u0 + 0.3 + random() * 0.3, v1: v0 + 0.3 + random() * 0.3 }
    const corners = [
      [box.u0, box.v0],
      [box.u1, box.v0],
      [box.u0, box.v1],
      [box.u1, box.v1],
    ].map(([u, v]) => rayAt(before, u!, v!))
    expect(
      await ask({ t: 'frame', camera: gallery, ...box, pace: seconds ? { kind: 'timed', seconds } : null }),
    ).toMatchObject({ ok: true })
    const after = viewOf(seconds ? (await ended('gallery')).truth : await settled())
    const reach = corners
      .map((ray) => pointOf(after, ray)!)
      .map((p) => Math.max(Math.abs(p.u), Math.abs(p.v)))
    expect(Math.abs(Math.max(...reach) - 1)).toBeLessThan(0.02)
  }
}, 90_000)

test('Follow hand keeps the point under the finger while it is dragged at up to 20 degrees a second', async () => {
  const gallery = idOf('Gallery')
  await bring(0, -8, 1000)
  const start = viewOf(await settled())
  const held = rayAt(start, -0.2, 0.1)
  const width = 2 * Math.tan((start.hfovDeg * Math.PI) / 360)
  let worst = 0
  let last = { u: -0.2, v: 0.1 }
  send({ t: 'finger', phase: 'down', camera: gallery, ...last })
  const from = performance.now()
  const samples: Promise<void>[] = []
  for (let t = 0; t < 2.6; t = (performance.now() - from) / 1000) {
    // There and back, at most 20 degrees a second where it is fastest.
    const swing = (16 / (start.hfovDeg / 2)) * Math.sin(t * 1.25)
    last = { u: -0.2 + swing * 0.62, v: 0.1 + swing * 0.3 }
    last.u = Math.max(-0.95, Math.min(0.95, last.u))
    send({ t: 'finger', phase: 'move', camera: gallery, ...last })
    const at = { ...last }
    samples.push(
      running.truth().then((truth) => {
        const seen = pointOf(viewOf(truth), held)
        // The first moments are the head's own start.
        if (seen && t > 0.25)
          worst = Math.max(worst, Math.hypot((seen.u - at.u) / 2, ((seen.v - at.v) / 2) * (9 / 16)))
      }),
    )
    await sleep(15)
  }
  await Promise.all(samples)
  send({ t: 'finger', phase: 'up', camera: gallery, ...last })
  expect(worst).toBeLessThan(0.03)
  const end = pointOf(viewOf(await settled()), held)!
  expect(Math.hypot(end.u - last.u, end.v - last.v) / 2).toBeLessThan(0.005)
  expect(width).toBeGreaterThan(0)
}, 30_000)

test('full stick moves the picture across the screen as fast at any zoom', async () => {
  const gallery = idOf('Gallery')
  const rates: number[] = []
  for (const zoom of [0, 5000, 10_000, 16_384]) {
    await bring(0, 0, zoom)
    await settled()
    const stick = (pan: number) => send({ t: 'stick', camera: gallery, pan, tilt: 0, zoom: 0, focus: 0 })
    const hold = setInterval(() => stick(1), 80)
    stick(1)
    await sleep(500)
    const [a, atA] = [await running.truth(), performance.now()]
    await sleep(700)
    const [b, atB] = [await running.truth(), performance.now()]
    clearInterval(hold)
    stick(0)
    const width = 2 * Math.tan((a.hfovDeg * Math.PI) / 360) * (180 / Math.PI)
    rates.push((b.panDeg - a.panDeg) / width / ((atB - atA) / 1000))
  }
  expect(Math.max(...rates) / Math.min(...rates)).toBeLessThan(1.15)
}, 60_000)

test('a nudge moves the picture by its part of the width; a wheel zooms about the pointer', async () => {
  const gallery = idOf('Gallery')
  await bring(10, -5, 4000)
  const before = viewOf(await settled())
  const middle = rayAt(before, 0, 0)
  expect(await ask({ t: 'nudge', camera: gallery, right: 0.05, up: -0.02 })).toMatchObject({ ok: true })
  const after = viewOf(await settled())
  const moved = pointOf(after, middle)!
  expect(moved.u / 2).toBeCloseTo(0.05, 2)
  expect((moved.v / 2) * (9 / 16)).toBeCloseTo(-0.02, 2)
  const pointer = rayAt(after, 0.5, 0.5)
  for (let i = 0; i < 4; i++) {
    void ask({ t: 'zoomAbout', camera: gallery, u: 0.5, v: 0.5, factor: 1.2 })
    await sleep(60)
  }
  const zoomed = viewOf(await settled())
  expect(Math.tan((after.hfovDeg * Math.PI) / 360) / Math.tan((zoomed.hfovDeg * Math.PI) / 360)).toBeCloseTo(
    1.2 ** 4,
    1,
  )
  const seen = pointOf(zoomed, pointer)!
  expect(Math.hypot(seen.u - 0.5, seen.v - 0.5) / 2).toBeLessThan(0.01)
}, 30_000)

test('limits are approached softly and kept; a preset beyond them is refused in words', async () => {
  const gallery = idOf('Gallery')
  const limit = (edge: string) =>
    fetch(`${running.address}/api/cameras/${gallery}/limits`, {
      method: 'POST',
      headers: { 'x-steady-heron': '1', 'content-type': 'application/json' },
      body: JSON.stringify({ edge }),
    })
  await bring(15, -8, 0)
  await settled()
  expect((await limit('right')).status).toBe(200)
  const edge = (await running.truth()).panDeg
  await bring(0, -8, 0)
  const hold = setInterval(
    () => send({ t: 'stick', camera: gallery, pan: 1, tilt: 0, zoom: 0, focus: 0 }),
    60,
  )
  await sleep(2500)
  clearInterval(hold)
  send({ t: 'stick', camera: gallery, pan: 0, tilt: 0, zoom: 0, focus: 0 })
  const stopped = await still(running)
  expect(stopped.panDeg).toBeLessThanOrEqual(edge + 0.05)
  expect(stopped.panDeg).toBeGreaterThan(edge - 1)
  const { presets } = (await (await fetch(`${running.address}/api/desk`)).json()) as DeskView
  const beyond = presets.find((p) => p.cameraId === gallery && p.pose!.panDeg! > edge + 1)!
  const beyondDeg = beyond.pose!.panDeg!
  expect(await ask({ t: 'recall', preset: beyond.id })).toMatchObject({
    ok: false,
    message: expect.stringMatching(/beyond the limits/),
  })
  expect((await limit('none')).status).toBe(200)
  expect(await ask({ t: 'recall', preset: beyond.id })).toMatchObject({ ok: true })
  expect(Math.abs(nearTurn((await settled()).panDeg, beyondDeg) - beyondDeg)).toBeLessThan(0.1)
}, 40_000)

test.each([
  ['VISCA', 1, 'gallery', 1],
  ['ONVIF', 5, 'benches', 2],
  ['a rig', 6, 'scoreboard', 2],
] as const)(
  'over %s the focus is set by hand before the head has arrived, and stands where it was stored',
  async (_kind, camera, id, within) => {
    const pose = { tiltDeg: -8, magnification: 2 }
    const auto = await listed(camera, 'By itself', { ...pose, panDeg: -18, focusAuto: true, focus: null })
    expect(await ask({ t: 'recall', preset: auto })).toMatchObject({ ok: true })
    await settled(id)
    await eventually('by itself', async () => (await running.truth(id)).focusMode === 'auto')
    const hand = await listed(camera, 'By hand', { ...pose, panDeg: 18, focusAuto: false, focus: 0x5000 })
    const recalled = ask({ t: 'recall', preset: hand })
    let before = false
    for (let i = 0; i < 300; i++) {
      const truth = await running.truth(id)
      if (truth.focusMode === 'manual' && Math.abs(truth.panDeg - 18) > 1) before = true
      if (Math.abs(truth.panDeg - 18) < 0.2) break
      await sleep(15)
    }
    expect(await recalled).toMatchObject({ ok: true })
    expect(before).toBe(true)
    await eventually(
      'it stands where it was stored',
      async () => Math.abs((await running.truth(id)).focusPos - 0x5000) <= within * 8,
    )
    expect(await ask({ t: 'focusMode', camera: idOf(cameras[camera - 1]!.name), auto: true })).toMatchObject({
      ok: true,
    })
  },
  30_000,
)

test('focus: once, on a point, and a head that follows its subject until a hand takes it', async () => {
  const gallery = idOf('Gallery')
  await bring(-27, -6, 9000)
  await settled()
  expect(await ask({ t: 'focusMode', camera: gallery, auto: false })).toMatchObject({ ok: true })
  const before = await running.truth()
  send({ t: 'stick', camera: gallery, pan: 0, tilt: 0, zoom: 0, focus: -0.9 })
  await sleep(250)
  send({ t: 'stick', camera: gallery, pan: 0, tilt: 0, zoom: 0, focus: 0 })
  await sleep(300)
  expect((await running.truth()).focusPos).toBeGreaterThan(before.focusPos + 200)
  expect(await ask({ t: 'focusOnce', camera: gallery })).toMatchObject({ ok: true })
  await eventually(
    'sharp again',
    async () => Math.abs((await running.truth()).focusPos - before.focusPos) < 120,
  )
  expect(await ask({ t: 'focusAt', camera: gallery, u: 0.9, v: 0.9 })).toMatchObject({ ok: true })
  await eventually('focused farther', async () => (await running.truth()).focusPos < before.focusPos - 500)
  expect(await ask({ t: 'focusAt', camera: idOf('Benches'), u: 0, v: 0 })).toMatchObject({ ok: false })
  await ask({ t: 'focusMode', camera: gallery, auto: true })

  expect(await ask({ t: 'followSubject', camera: gallery, on: true, sensitivity: 3, size: 2 })).toMatchObject(
    { ok: true },
  )
  await eventually('it turns to the host', async () => {
    const t = await running.truth()
    return t.following && Math.abs(t.panDeg - -29) < 3
  })
  send({ t: 'stick', camera: gallery, pan: 0.5, tilt: 0, zoom: 0, focus: 0 })
  await eventually('a hand ends it', async () => !(await running.truth()).following)
  send({ t: 'stick', camera: gallery, pan: 0, tilt: 0, zoom: 0, focus: 0 })
}, 40_000)

test("a camera's own memories: stored in and recalled, over VISCA and ONVIF; an empty one is refused", async () => {
  for (const [name, id] of [
    ['Gallery', 'gallery'],
    ['Benches', 'benches'],
  ] as const) {
    const camera = idOf(name)
    // Stored in twice: the second place is the one kept.
    expect(await ask({ t: 'memory', camera, action: 'set', number: 7 })).toMatchObject({ ok: true })
    expect(await ask({ t: 'aim', camera, u: 0.4, v: 0.6, pace: null })).toMatchObject({ ok: true })
    const kept = await settled(id, 600)
    expect(await ask({ t: 'memory', camera, action: 'set', number: 7 })).toMatchObject({ ok: true })
    expect(await ask({ t: 'aim', camera, u: 0.5, v: 0.3, pace: null })).toMatchObject({ ok: true })
    const away = await settled(id, 600)
    expect(Math.abs(away.panDeg - kept.panDeg)).toBeGreaterThan(1)
    expect(await ask({ t: 'memory', camera, action: 'recall', number: 7 })).toMatchObject({ ok: true })
    const back = await settled(id, 600)
    expect(Math.abs(back.panDeg - kept.panDeg)).toBeLessThan(0.05)
    expect(Math.abs(back.tiltDeg - kept.tiltDeg)).toBeLessThan(0.05)
    expect(await ask({ t: 'memory', camera, action: 'recall', number: 99 })).toMatchObject({ ok: false })
  }
  expect(await ask({ t: 'memory', camera: idOf('Scoreboard'), action: 'recall', number: 1 })).toMatchObject({
    ok: false,
    message: expect.stringMatching(/two devices/),
  })
}, 40_000)
