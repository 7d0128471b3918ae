/** `npm start` itself: faults in one clear sentence, and an end that leaves nothing behind. */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process'
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { sleep } from './harness'

const root = join(__dirname, '..')
const data = mkdtempSync(join(tmpdir(), 'heron-start-'))
// The database's own user must be able to enter.
chmodSync(data, 0o755)
const ports = { PORT: '18420', HERON_SIM_PORT: '18421' }

afterAll(() => rmSync(data, { recursive: true, force: true }))

interface Start {
  child: ChildProcess
  output(): string
  ended: Promise<number | null>
}

function start(env: Record<string, string>, args: string[] = []): Start {
  const child = spawn('npm', ['start', '--', ...args], {
    cwd: root,
    env: { ...process.env, ...ports, HERON_DATA: data, ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  let text = ''
  child.stdout!.on('data', (d) => (text += d))
  child.stderr!.on('data', (d) => (text += d))
  return { child, output: () => text, ended: new Promise((resolve) => child.on('close', resolve)) }
}

async function ready(started: Start): Promise<void> {
  for (let i = 0; i < 400; i++) {
    if (started.output().includes('is ready')) return
    if (started.child.exitCode !== null) break
    await sleep(100)
  }
  throw new Error(started.output())
}

/** Processes that carry the data folder in their environment or arguments. */
function processes(): string[] {
  const script = `for p in /proc/[0-9]*; do
    tr '\\0' '\\n' < $p/environ 2>/dev/null | grep -qxF "HERON_DATA=$WANTED" && echo $p
    tr '\\0' ' ' < $p/cmdline 2>/dev/null | grep -qF "$WANTED/pg" && echo $p
  done; true`
  const env = { PATH: process.env.PATH!, NODE_ENV: 'test' as const, WANTED: data }
  return execFileSync('bash', ['-c', script], { encoding: 'utf8', env }).split('\n').filter(Boolean)
}

test('start, a second start, end within 3 s with nothing left, start again with all data', async () => {
  const first = start({})
  await ready(first)
  expect(first.output()).toContain('http://127.0.0.1:18420')
  const name = `Kept ${Date.now()}`
  const desk = (await (await fetch('http://127.0.0.1:18420/api/desk')).json()) as {
    presets: { id: string }[]
  }
  const renamed = await fetch(`http://127.0.0.1:18420/api/presets/${desk.presets[0]!.id}`, {
    method: 'PATCH',
    headers: { 'content-type': 'application/json', 'x-steady-heron': '1' },
    body: JSON.stringify({ name }),
  })
  expect(renamed.status).toBe(200)

  const second = start({ PORT: '18430', HERON_SIM_PORT: '18431' })
  expect(await second.ended).toBe(1)
  expect(second.output()).toContain('already runs with this data folder, at http://127.0.0.1:18420')

  const from = Date.now()
  first.child.kill('SIGTERM')
  await first.ended
  expect(Date.now() - from).toBeLessThan(3000)
  expect(processes()).toEqual([])

  const again = start({})
  await ready(again)
  expect(await (await fetch('http://127.0.0.1:18420/api/desk')).text()).toContain(name)
  // Killed outright, the next start still finds its way.
  const { pid } = JSON.parse(readFileSync(join(data, 'running.json'), 'utf8')) as { pid: number }
  process.kill(pid, 'SIGKILL')
  await again.ended
  const fresh = start({}, ['--fresh', '--yes'])
  await ready(fresh)
  expect(await (await fetch('http://127.0.0.1:18420/api/desk')).text()).not.toContain(name)
  fresh.child.kill('SIGINT')
  await fresh.ended
  expect(processes()).toEqual([])
}, 120_000)

test('a taken port, no confirmation, a broken data folder: one sentence each', async () => {
  const holder = createServer().listen(18440, '127.0.0.1')
  const taken = start({ PORT: '18440' })
  expect(await taken.ended).toBe(1)
  expect(taken.output()).toContain('Port 18440 is in use')
  holder.close()

  const unconfirmed = start({}, ['--fresh'])
  expect(await unconfirmed.ended).toBe(1)
  expect(unconfirmed.output()).toContain('Add --yes')

  const odd = start({ PORT: 'eighty' })
  expect(await odd.ended).toBe(1)
  expect(odd.output()).toContain('PORT=eighty is no port')

  const broken = join(data, 'broken')
  mkdirSync(join(broken, 'pg'), { recursive: true })
  writeFileSync(join(broken, 'pg', 'rubbish'), 'x')
  const refused = start({ HERON_DATA: broken })
  expect(await refused.ended).toBe(1)
  expect(refused.output()).toContain('is broken')
}, 60_000)

test('the unit of the service is one that systemd takes', () => {
  const unit = execFileSync('node', ['scripts/service.mjs', '--print'], { cwd: root, encoding: 'utf8' })
  expect(unit).toMatch(/ExecStart=.*start\.mjs --empty/)
  expect(unit).toMatch(/KillMode=control-group/)
  if (!existsSync('/usr/bin/systemd-analyze')) return
  const file = join(data, 'steady-heron.service')
  // As the user of the tests, since the service's own is made when it is installed.
  writeFileSync(file, unit.replace(/^(User|Group)=.*$/gm, '$1=root'))
  execFileSync('systemd-analyze', ['verify', file], { stdio: 'pipe' })
})
