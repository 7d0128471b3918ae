/** What is said of a link of requests: never healthy when nothing comes back, back as soon as something does. */
import { seeded } from '../../core/seeded'
import { DeviceFault } from './deviceFault'
import { RequestHealth } from './requestHealth'
import { HandClock } from './testing/handClock'

const WORDS = { connecting: 'connecting', silent: 'silent', slow: 'slow', standby: 'standby' }

type Answer = 'answers' | 'refuses' | 'login' | 'nothing'

function setUp() {
  const clock = new HandClock()
  const changes: string[] = []
  const health = new RequestHealth(clock, WORDS, 400, (from) => changes.push(`${from} to ${health.state}`))
  /** One request that takes so long. */
  const ask = async (answer: Answer, ms = 20) => {
    const asked = health
      .track(async () => {
        await new Promise<void>((resolve) => clock.after(ms, resolve))
        if (answer === 'nothing') throw new DeviceFault('network', 'It does not answer.')
        if (answer === 'login') throw new DeviceFault('login', 'Wrong login.')
        if (answer === 'refuses') throw new DeviceFault('refused', 'Not now.')
      })
      .catch(() => {})
    await clock.run(ms + 1)
    await asked
    health.check()
  }
  return { clock, health, changes, ask }
}

test('it connects, falls silent after two seconds without an answer, and comes back', async () => {
  const { health, changes, ask } = setUp()
  await ask('nothing', 1500)
  expect(health.health).toMatchObject({ state: 'connecting', advice: 'It does not answer.' })
  await ask('answers')
  expect(health.health).toMatchObject({ state: 'ready', advice: null, reconnects: 0 })
  await ask('nothing', 1500)
  expect(health.answers).toBe(true)
  await ask('nothing', 700)
  expect(health.health).toMatchObject({ state: 'silent', advice: 'It does not answer.' })
  await ask('answers')
  expect(health.answers).toBe(true)
  expect(health.health.reconnects).toBe(1)
  expect(changes.map((c) => c.split(' to ')[0])).toEqual(expect.arrayContaining(['connecting', 'silent']))
})

test('a refused order is an answer; a refused login is told as such and not as silence', async () => {
  const { clock, health, ask } = setUp()
  await ask('answers')
  for (let i = 0; i < 5; i++) await ask('refuses', 600)
  expect(health.answers).toBe(true)
  await ask('login')
  await clock.run(5000)
  health.check()
  expect(health.health).toMatchObject({ state: 'refused', advice: 'Wrong login.' })
  await ask('answers')
  expect(health.answers).toBe(true)
})

test('a link that loses much or takes long is slow; a camera in standby is that, and not slow', async () => {
  const { health, ask } = setUp()
  for (let i = 0; i < 12; i++) await ask('answers', 900)
  expect(health.health).toMatchObject({ state: 'slow', advice: 'slow' })
  health.power = false
  expect(health.health).toMatchObject({ state: 'standby', advice: 'standby' })
})

test('30 seeds: it claims to be there only while something was heard in the last seconds', async () => {
  for (let seed = 1; seed <= 30; seed++) {
    const { clock, health, ask } = setUp()
    const random = seeded(seed)
    let heardAt = Number.NEGATIVE_INFINITY
    let dead = false
    for (let i = 0; i < 60; i++) {
      if (random() < 0.15) dead = !dead
      await ask(dead ? 'nothing' : 'answers', 10 + random() * 600)
      if (!dead) heardAt = clock.now()
      // Two seconds from the first that was not answered, and what the last of them took.
      if (health.answers) expect(clock.now() - heardAt).toBeLessThan(2000 + 611)
      if (!dead) expect(health.answers).toBe(true)
    }
  }
})
