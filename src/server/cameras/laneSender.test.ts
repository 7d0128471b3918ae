/** Requests to a device that is slow, loses some, and may carry one out though its answer is lost. */
import { seeded } from '../../core/seeded'
import { LaneSender } from './laneSender'
import { HandClock } from './testing/handClock'

const TIMES_OUT_MS = 1500

/** A lane of a device: 0 is at rest, positive is a drive, negative a travel. */
class SlowDevice {
  state = 0
  drives = 0
  mostDrives = 0
  stopsSeen = 0

  constructor(
    private readonly clock: HandClock,
    private readonly random: () => number,
    private readonly loss: number,
  ) {}

  async carryOut(value: number): Promise<void> {
    const drives = value > 0
    if (drives) this.mostDrives = Math.max(this.mostDrives, ++this.drives)
    const wait = (ms: number) => new Promise<void>((resolve) => this.clock.after(ms, resolve))
    const lost = this.random() < this.loss
    const answerLost = this.random() < this.loss
    const there = this.random() * 300
    await wait(there)
    if (!lost) this.state = value
    if (!lost && value === 0) this.stopsSeen += 1
    if (lost || answerLost) await wait(TIMES_OUT_MS - there)
    else await wait(this.random() * 200)
    if (drives) this.drives -= 1
    if (lost || answerLost) throw new Error('no answer')
  }
}

function setUp(seed: number, loss: number) {
  const clock = new HandClock()
  const random = seeded(seed)
  const device = new SlowDevice(clock, random, loss)
  const faults: string[] = []
  const sender = new LaneSender(clock, ({ message }) => faults.push(message))
  const set = (value: number) => sender.set({ stop: value === 0, send: () => device.carryOut(value) })
  const travel = (value: number) => sender.travel(() => device.carryOut(-value))
  return { clock, random, device, sender, set, travel, faults }
}

test.each(Array.from({ length: 40 }, (_, i) => i + 1))(
  'seed %i: one drive at a time, and after the last stop it stands still',
  async (seed) => {
    const { clock, random, device, sender, set, travel } = setUp(seed, 0.25)
    for (let i = 0; i < 80; i++) {
      if (random() < 0.15) void travel(i + 1).catch(() => {})
      else set(random() < 0.15 ? 0 : i + 1)
      await clock.run(random() * 90)
    }
    set(0)
    expect(sender.stopPending).toBe(true)
    await clock.run(20_000)
    expect([device.state, sender.stopPending, device.mostDrives]).toEqual([0, false, 1])
  },
)

test('on a good line the newest drive is the one that the device ends with, and those between are left out', async () => {
  for (let seed = 1; seed <= 20; seed++) {
    const { clock, random, device, set, faults } = setUp(seed, 0)
    for (let i = 1; i <= 60; i++) {
      set(i)
      await clock.run(random() * 40)
    }
    await clock.run(3000)
    expect([device.state, device.drives, faults.length]).toEqual([60, 0, 0])
  }
})

test('a travel has the last word over the drives before it, whichever arrives last; a stop or a hand over the travel', async () => {
  for (let seed = 1; seed <= 60; seed++) {
    const { clock, random, device, sender, set, travel, faults } = setUp(seed, 0)
    for (let i = 1; i <= 6; i++) {
      set(i)
      await clock.run(random() * 120)
    }
    const gone = travel(77)
    await clock.run(3000)
    expect([device.state, faults.length]).toEqual([-77, 0])
    expect(await gone).not.toBeNull()
    set(5)
    set(0)
    // It waits until the stop is answered: one that is told again would end it.
    void travel(78)
    await clock.run(4000)
    expect([device.state, sender.stopPending]).toEqual([-78, false])
    set(6)
    void travel(79)
    await clock.run(random() * 250)
    set(0)
    await clock.run(4000)
    expect([device.state, sender.stopPending]).toEqual([0, false])
    set(7)
    const late = travel(80)
    set(8)
    await clock.run(4000)
    expect(device.state === 8 || (await late) !== null).toBe(true)
  }
})

test('a travel does not wait for ever for a stop that nobody answers, and is not told after a newer order', async () => {
  const { clock, sender, set, travel } = setUp(4, 1)
  set(7)
  set(0)
  const gone = travel(9).then(
    () => 'answered',
    (error: Error) => error.message,
  )
  await clock.run(5000)
  expect(await gone).toBe('no answer')
  expect(sender.stopPending).toBe(true)
  const none = travel(9)
  set(8)
  await clock.run(10)
  expect(await none).toBeNull()
})

test('a stop goes past a drive that is under way, and again after that has ended; closed, it is given up', async () => {
  const { clock, device, sender, set } = setUp(3, 0)
  set(5)
  set(0)
  await clock.run(5)
  expect(device.drives).toBe(1)
  await clock.run(3000)
  expect([device.state, sender.stopPending]).toEqual([0, false])
  expect(device.stopsSeen).toBeGreaterThan(1)

  const dead = setUp(4, 1)
  dead.set(7)
  dead.set(0)
  await dead.clock.run(10_000)
  expect(dead.sender.stopPending).toBe(true)
  dead.sender.close()
  await dead.clock.run(5000)
  expect(dead.sender.stopPending).toBe(false)
})
