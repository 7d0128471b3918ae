/** Drive runs of made-up motors, written out by physics: their speeds, delay and acceleration are found again. */
import { seeded } from '../seeded'
import { type DriveRun, learnDrives } from './drives'

interface Motor {
  accel: number
  brake: number
  delayMs: number
  renewMs: number
  pollMs: number
}

/** Where it is so long after it was told to run, units; and it is told to stop at the end. */
function wayAt(speed: number, { accel, brake, delayMs }: Motor, ms: number, runMs: number): number {
  const t = Math.max(0, ms - delayMs) / 1000
  const end = runMs / 1000
  const going = (s: number) => {
    const ramp = speed / accel
    return s < ramp ? (accel * s * s) / 2 : speed * (s - ramp / 2)
  }
  if (t <= end) return going(t)
  const v = Math.min(speed, accel * end)
  const s = Math.min(t - end, v / brake)
  return going(end) + v * s - (brake * s * s) / 2
}

function run(step: number, speed: number, motor: Motor, random: () => number): DriveRun {
  const runMs = 1000 * Math.min(5, Math.max(1.3 + speed / motor.accel, 60 / speed))
  const phase = random() * motor.renewMs
  const at = (ms: number) => {
    const renewed = Math.floor((ms - phase) / motor.renewMs) * motor.renewMs + phase
    return Math.round(wayAt(speed, motor, renewed, runMs))
  }
  const seen: { atMs: number; value: number }[] = []
  for (let ms = random() * motor.pollMs; ms < runMs + 1500; ms += motor.pollMs * (0.9 + 0.2 * random())) {
    const value = at(ms)
    if (value !== (seen.at(-1)?.value ?? 0)) seen.push({ atMs: ms, value })
  }
  return { step, toldMs: 0, stoppedMs: runMs, seen, from: 0, to: Math.round(wayAt(speed, motor, 1e6, runMs)) }
}

const motorOf = (seed: number) => {
  const random = seeded(seed)
  const between = (a: number, b: number) => a + (b - a) * random()
  const scale = between(14, 110)
  const accel = between(100, 350) * scale
  const speeds = Array.from({ length: 20 }, (_, i) => scale * (0.3 + 60 * ((i + 1) / 20) ** 2))
  const motor: Motor = {
    accel,
    brake: accel * between(1, 1.4),
    delayMs: between(30, 200),
    renewMs: between(16, 90),
    pollMs: between(20, 60),
  }
  return { motor, speeds, runs: speeds.map((speed, i) => run(i + 1, speed, motor, random)) }
}

test('speeds within 3 %, the delay within 15 ms, and both within twice what is stated in 95 of 100 cases', () => {
  let [inside, all] = [0, 0]
  for (let seed = 1; seed <= 100; seed++) {
    const { motor, speeds, runs } = motorOf(seed)
    const found = learnDrives(runs, 20, motor.accel * 0.5)
    speeds.forEach((speed, i) => {
      const { value, sigma } = found.speeds[i]!
      expect(Math.abs(value / speed - 1)).toBeLessThan(0.03)
      all += 1
      if (Math.abs(value - speed) < 2 * sigma) inside += 1
    })
    expect(Math.abs(found.delaySeconds!.value - motor.delayMs / 1000)).toBeLessThan(0.015)
    expect(Math.abs(found.accel!.value / motor.accel - 1)).toBeLessThan(0.35)
  }
  expect(inside / all).toBeGreaterThan(0.95)
})

test('a step that moves nothing is not known, and a head that is never driven says nothing', () => {
  const { runs } = motorOf(1)
  const still = { ...runs[4]!, seen: [], to: 0 }
  const found = learnDrives([...runs.slice(0, 4), still, ...runs.slice(5)], 20, 1000)
  expect(found.speeds[4]).toBeNull()
  expect(found.speeds[5]).not.toBeNull()
  expect(learnDrives([], 3, 1000)).toEqual({
    speeds: [null, null, null],
    accel: null,
    delaySeconds: null,
    renewSeconds: null,
  })
})
