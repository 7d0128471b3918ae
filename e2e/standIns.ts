/** Stand-ins that run beside the application, so that they outlive it; where the machine allows, behind a network of their own that can be cut. */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Truth } from '../src/simulator/standIn'

const root = join(__dirname, '..')
/** Addresses of the stand-ins, by their last number. */
const HOSTS = [11, 12, 13, 15, 16]

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

/** A network namespace with two links: one for the cameras, which can be cut, and one for the truth. Null where the machine does not allow it. */
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
    try {
      ip('netns', 'del', name)
    } catch {
      // It never was there.
    }
  }
  try {
    ip('netns', 'add', name)
    for (const [link, ours] of [
      [`hc`, net],
      [`ht`, aside],
    ] as const) {
      ip('link', 'add', `${link}a${n}`, 'type', 'veth', 'peer', 'name', `${link}b${n}`, 'netns', name)
      ip('addr', 'add', `${ours}.1/24`, 'dev', `${link}a${n}`)
      ip('link', 'set', `${link}a${n}`, 'up')
      ip('netns', 'exec', name, 'ip', 'link', 'set', `${link}b${n}`, 'up')
    }
    ip('netns', 'exec', name, 'ip', 'link', 'set', 'lo', 'up')
    for (const host of HOSTS)
      ip('netns', 'exec', name, 'ip', 'addr', 'add', `${net}.${host}/24`, 'dev', `hcb${n}`)
    ip('netns', 'exec', name, 'ip', 'addr', 'add', `${aside}.2/24`, 'dev', `htb${n}`)
  } catch {
    close()
    return null
  }
  // The far end, as a cable that is pulled out somewhere on the way: this computer does not notice.
  const far = (state: string) => ip('netns', 'exec', name, 'ip', 'link', 'set', `hcb${n}`, state)
  return {
    net,
    truthHost: `${aside}.2`,
    inside,
    cut: () => far('down'),
    mend: () => far('up'),
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
    env: { HERON_SIM_NET: net, HERON_SIM_SERIAL: env.HERON_SIM_SERIAL, HERON_SIM_ELSEWHERE: '1' },
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
