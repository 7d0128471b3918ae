/** Stand-ins that run beside the application, so that they outlive it; where the machine allows, behind a network of their own that can be cut. */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Truth } from '../src/simulator/standIn'

const root = join(__dirname, '..')
/** Addresses of the stand-ins, by their last number. */
const HOSTS = [11, 12, 13, 15, 16, 20, 21, 22]

/** What the demo calls the camera of each stand-in. */
export const NAMES: Record<string, string> = {
  gallery: 'Gallery',
  'stage-left': 'Stage left',
  lectern: 'Lectern',
  trio: 'Interval trio',
  benches: 'Benches',
  scoreboard: 'Scoreboard',
}

export interface Network {
  /** The first three numbers of the stand-ins' addresses. */
  readonly net: string
  /** Where the page of truth listens; it is reached while the network is cut, too. */
  readonly truthHost: string
  /** What a command must begin with to run behind it. */
  readonly inside: string[]
  cut(): void
  mend(): void
  close(): void
}

const ip = (...args: string[]) => execFileSync('ip', args, { stdio: 'ignore' })

/** A network namespace with two links: one for the cameras, which can be cut, and one for the truth. Null if the machine does not allow it. */
export function makeNetwork(): Network | null {
  const n = 10 + (process.pid % 200)
  const name = `heron${n}`
  const [net, aside] = [`10.${n}.1`, `10.${n}.2`]
  const inside = ['ip', 'netns', 'exec', name]
  const close = () => {
    for (const link of [`hca${n}`, `hta${n}`]) {
      try {
        ip('link', 'del', link)
      } catch {
        // It is gone with its namespace.
      }
    }
    for (const space of [name, `${name}s`]) {
      try {
        ip('netns', 'del', space)
      } catch {
        // It never was there.
      }
    }
  }
  const within = (...args: string[]) => ip('netns', 'exec', name, 'ip', ...args)
  const atSwitch = (...args: string[]) => ip('netns', 'exec', `${name}s`, 'ip', ...args)
  try {
    for (const space of [name, `${name}s`]) {
      ip('netns', 'add', space)
      ip('netns', 'exec', space, 'ip', 'link', 'set', 'lo', 'up')
    }
    // Us, two switches with a cable between them, and the cameras: when that cable is pulled, neither end notices.
    ip('link', 'add', `hca${n}`, 'type', 'veth', 'peer', 'name', 'ours', 'netns', `${name}s`)
    atSwitch('link', 'add', 'theirs', 'type', 'veth', 'peer', 'name', 'cameras', 'netns', name)
    atSwitch('link', 'add', 'cable', 'type', 'veth', 'peer', 'name', 'elbac')
    for (const [bridge, ...ports] of [
      ['near', 'ours', 'cable'],
      ['far', 'theirs', 'elbac'],
    ] as const) {
      atSwitch('link', 'add', bridge, 'type', 'bridge')
      for (const port of ports) {
        atSwitch('link', 'set', port, 'master', bridge)
        atSwitch('link', 'set', port, 'up')
      }
      atSwitch('link', 'set', bridge, 'up')
    }
    ip('addr', 'add', `${net}.1/24`, 'dev', `hca${n}`)
    ip('link', 'set', `hca${n}`, 'up')
    for (const host of HOSTS) within('addr', 'add', `${net}.${host}/24`, 'dev', 'cameras')
    within('link', 'set', 'cameras', 'up')
    ip('link', 'add', `hta${n}`, 'type', 'veth', 'peer', 'name', 'truth', 'netns', name)
    ip('addr', 'add', `${aside}.1/24`, 'dev', `hta${n}`)
    ip('link', 'set', `hta${n}`, 'up')
    within('addr', 'add', `${aside}.2/24`, 'dev', 'truth')
    within('link', 'set', 'truth', 'up')
  } catch {
    close()
    return null
  }
  return {
    net,
    truthHost: `${aside}.2`,
    inside,
    cut: () => atSwitch('link', 'set', 'cable', 'down'),
    mend: () => atSwitch('link', 'set', 'cable', 'up'),
    close,
  }
}

export interface StandIns {
  /** For startApplication. */
  readonly env: Record<string, string>
  truth(): Promise<Truth[]>
  faults(id: string, faults: object): Promise<void>
  stop(): void
}

/** @param network null: on loopback */
export async function startStandIns(network: Network | null): Promise<StandIns> {
  const port = 20_000 + (process.pid % 5000)
  const net = network?.net ?? `127.${port >> 8}.${port & 255}`
  const truthHost = network?.truthHost ?? '127.0.0.1'
  const folder = mkdtempSync(join(tmpdir(), 'heron-line-'))
  const env = {
    HERON_SIM_NET: net,
    HERON_SIM_SERIAL: join(folder, 'line'),
    HERON_SIM_PORT: String(port),
    HERON_SIM_TRUTH_HOST: truthHost,
    HERON_SIM_TALLY: String(port),
    HERON_SIM_TALLY_HOST: network ? `${net}.1` : '127.0.0.1',
  }
  const [command, ...args] = [
    ...(network?.inside ?? []),
    process.execPath,
    '--import',
    'tsx',
    join(root, 'src/simulator/main.ts'),
  ]
  const child: ChildProcess = spawn(command!, args, {
    cwd: root,
    env: { ...process.env, ...env },
    stdio: ['ignore', 'inherit', 'inherit'],
  })
  const base = `http://${truthHost}:${port}`
  const standIns: StandIns = {
    env: {
      HERON_SIM_NET: net,
      HERON_SIM_SERIAL: env.HERON_SIM_SERIAL,
      HERON_SIM_TALLY: env.HERON_SIM_TALLY,
      HERON_SIM_ELSEWHERE: '1',
    },
    truth: async () => (await (await fetch(`${base}/truth`)).json()) as Truth[],
    async faults(id, faults) {
      await fetch(`${base}/cameras/${id}/faults`, { method: 'POST', body: JSON.stringify(faults) })
    },
    stop() {
      child.kill('SIGTERM')
      rmSync(folder, { recursive: true, force: true })
    },
  }
  for (let i = 0; i < 300; i++) {
    try {
      await standIns.truth()
      return standIns
    } catch {
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
  }
  throw new Error('the stand-ins do not start')
}
