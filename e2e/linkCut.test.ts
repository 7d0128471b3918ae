/**
 * The link to the cameras is cut while a hand drives: in a network of its own where the machine allows that, by
 * stand-ins that fall silent elsewhere.
 * No packet can stop a head then; on its return it is stopped at once, and on a leash it stands by itself.
 */
import { apiOf } from './application'
import { Hands, inward, type Push, standstills } from './hands'
import { eventually, type Running, sleep, startApplication } from './harness'
import { makeNetwork, type StandIns, startStandIns } from './standIns'

const network = makeNetwork()
/** Those whose link goes over the network that is cut. */
const CAMERAS = {
  gallery: 'Gallery',
  'stage-left': 'Stage left',
  benches: 'Benches',
  scoreboard: 'Scoreboard',
}
type Id = keyof typeof CAMERAS

let standIns: StandIns
let running: Running
let hands: Hands
beforeAll(async () => {
  standIns = await startStandIns(network)
  running = await startApplication(standIns.env)
  hands = await Hands.open(running.address)
  // The cut takes the tally away too, and what is not known is guarded: here the whole speed is wanted.
  const { event } = await desk()
  await answer(`/events/${event.id}`, 'PATCH', { guard: { ...event.guard, mode: 'off' } })
}, 90_000)
afterEach(() => mend())
afterAll(async () => {
  hands.close()
  await running.stop()
  standIns.stop()
  network?.close()
}, 30_000)
const { answer, desk } = apiOf(() => running)

/** On loopback there is no cable to pull: the stand-ins hear nothing and say nothing instead. */
async function mute(on: boolean): Promise<void> {
  for (const id of Object.keys(CAMERAS)) await standIns.faults(id, { mute: on })
}
const cut = async () => (network ? network.cut() : mute(true))
const mend = async () => (network ? network.mend() : mute(false))

const truthOf = async (id: string) => (await standIns.truth()).find((t) => t.id === id)!
const ids = async () => {
  const { cameras } = await desk()
  return new Map(Object.entries(CAMERAS).map(([id, name]) => [id, cameras.find((c) => c.name === name)!.id]))
}

async function ready(camera: string): Promise<void> {
  await eventually(`${camera} is ready`, async () => /ready|slow/.test(hands.health(camera) ?? ''), 20_000)
}

/** Drives some of them, and cuts the link while they move. */
async function driveAndCut(which: readonly Id[], speed = 0.45): Promise<Map<Id, string>> {
  const all = await ids()
  const pushes = new Map<string, Push>()
  for (const id of which) {
    await ready(all.get(id)!)
    pushes.set(all.get(id)!, { ...inward(await truthOf(id), speed), zoom: 0 })
  }
  hands.hold(pushes)
  for (const id of which) await eventually(`${id} moves`, async () => (await truthOf(id)).moving)
  await sleep(700)
  await cut()
  return new Map(which.map((id) => [id, all.get(id)!]))
}

test.each([800, 3500])(
  'let go while the link is cut: stopped within 0.6 s of its return after %i ms',
  async (cutMs) => {
    const driven = await driveAndCut(['gallery', 'stage-left', 'scoreboard'], 0.12)
    await sleep(250)
    hands.release(driven.values())
    await sleep(cutMs - 250)
    await mend()
    const runs = (await standstills(standIns.truth)).filter((r) => driven.has(r.id as Id))
    process.stderr.write(
      `link back after ${cutMs} ms: ${runs.map((r) => `${r.id} ${r.ms} ms ${r.deg.toFixed(1)}°`).join(', ')}\n`,
    )
    expect(runs.filter((r) => r.ms > 600)).toEqual([])
    for (const id of driven.values()) await ready(id)
    // Only what was lost for this long that it counts as silent is told.
    if (cutMs > 2500)
      await eventually('it is told', async () =>
        hands.notices.some((text) => /link to this camera is back/.test(text)),
      )
  },
  60_000,
)

test('a head on a leash stands within a second of the cut, without any packet; so does an ONVIF one by its own timeout', async () => {
  const all = await ids()
  await answer(`/cameras/${all.get('gallery')}/habits`, 'PATCH', { leash: true })
  await answer(`/cameras/${all.get('stage-left')}/habits`, 'PATCH', { leash: true })
  await answer(`/cameras/${all.get('scoreboard')}/habits`, 'PATCH', { leash: true })
  const driven = await driveAndCut(['gallery', 'stage-left', 'scoreboard'])
  const runs = (await standstills(standIns.truth)).filter((r) => driven.has(r.id as Id))
  process.stderr.write(
    `on a leash: ${runs.map((r) => `${r.id} ${r.ms} ms ${r.deg.toFixed(1)}°`).join(', ')}\n`,
  )
  expect(runs.filter((r) => r.ms > 1000)).toEqual([])
  hands.release(driven.values())
  await mend()
  for (const id of driven.values()) await ready(id)
  const own = await driveAndCut(['benches'])
  const [stood] = (await standstills(standIns.truth)).filter((r) => own.has(r.id as Id))
  process.stderr.write(`ONVIF: ${stood!.ms} ms ${stood!.deg.toFixed(1)}°\n`)
  expect(stood!.ms).toBeLessThan(1300)
  hands.release(own.values())
}, 90_000)
