/** A search for cameras: runs by itself, tells what it found so far, and can be called off. */
import { randomUUID } from 'node:crypto'
import * as v from 'valibot'
import { addressText, type Connection, deviceKeys, kindWords } from '../../core/cameras/connection'
import { SingleConnection } from '../../core/cameras/kinds'
import { scopeValue } from '../../core/onvif/discovery'
import { parsedUrl } from '../../core/safely'
import { quirkWords } from '../../core/visca/quirks'
import type { SerialLines } from '../cameras/visca/serialLine'
import { portOf, resolveTarget } from '../links/targets'
import { findOnvif } from './findOnvif'
import { findSerial } from './findSerial'
import { type FoundVisca, findVisca } from './findVisca'
import { serialPorts } from './serialPorts'
import { hostsOf } from './subnet'

export const Candidate = v.object({
  connection: SingleConnection,
  /** What it is called or what it says of itself. */
  title: v.string(),
  address: v.string(),
  /** The camera of the list that it is, in words; null if it is new. */
  known: v.nullable(v.string()),
  needsLogin: v.boolean(),
  /** What is odd about its answer, in sentences. */
  remarks: v.array(v.string()),
})
export type Candidate = v.InferOutput<typeof Candidate>

export const Search = v.object({
  id: v.string(),
  state: v.picklist(['running', 'done', 'cancelled']),
  /** 0..1 */
  progress: v.number(),
  found: v.array(Candidate),
})
export type Search = v.InferOutput<typeof Search>

export interface SearchOrder {
  onvif: boolean
  /** A range of addresses, or null. */
  range: string | null
  serial: boolean
}

export interface FinderContext {
  lines: SerialLines
  cameras(): readonly { number: number; name: string; connection: Connection }[]
}

const KEEP_MS = 10 * 60_000

/** More than any venue has, and no more than a page can show. */
const MOST_FOUND = 500

export class Finder {
  private readonly searches = new Map<string, { search: Search; abort: AbortController }>()

  constructor(private readonly context: FinderContext) {}

  get(id: string): Search | null {
    return this.searches.get(id)?.search ?? null
  }

  cancel(id: string): boolean {
    const entry = this.searches.get(id)
    if (!entry) return false
    if (entry.search.state === 'running') entry.search.state = 'cancelled'
    entry.abort.abort()
    return true
  }

  /** @returns a sentence where the range makes no sense */
  start(order: SearchOrder): Search | string {
    const hosts = order.range === null ? [] : hostsOf(order.range)
    if (typeof hosts === 'string') return hosts
    for (const id of this.searches.keys()) this.cancel(id)
    const search: Search = { id: randomUUID(), state: 'running', progress: 0, found: [] }
    const abort = new AbortController()
    this.searches.set(search.id, { search, abort })
    setTimeout(() => this.searches.delete(search.id), KEEP_MS).unref()
    void this.run(search, abort.signal, order, hosts)
    return search
  }

  private async run(search: Search, signal: AbortSignal, order: SearchOrder, hosts: string[]): Promise<void> {
    const shares = new Map<string, number>()
    const tell = (name: string, share: number) => {
      shares.set(name, share)
      search.progress = [...shares.values()].reduce((a, b) => a + b, 0) / shares.size
    }
    const works: Promise<void>[] = []
    const begin = (name: string, work: Promise<void>) => {
      tell(name, 0)
      works.push(work.catch(() => {}).then(() => tell(name, 1)))
    }
    if (order.onvif) begin('onvif', this.onvif(search, signal))
    if (hosts.length > 0)
      begin(
        'visca',
        this.visca(search, signal, hosts, (s) => tell('visca', s)),
      )
    if (order.serial) begin('serial', this.serial(search, signal))
    await Promise.all(works)
    search.progress = 1
    if (search.state === 'running') search.state = 'done'
  }

  /** Cameras of the list are left alone: they are known, and some take one connection only. */
  private async visca(
    search: Search,
    signal: AbortSignal,
    hosts: readonly string[],
    progress: (share: number) => void,
  ): Promise<void> {
    const used = new Set<string>()
    for (const { name, connection } of this.context.cameras())
      for (const link of connection.kind === 'rig' ? [connection.head, connection.lens] : [connection]) {
        if (!('host' in link)) continue
        const address = await resolveTarget(link.host, link.port).catch(() => link.host)
        if (!hosts.includes(address)) continue
        used.add(address)
        this.add(search, link, name)
      }
    const free = hosts.filter((host) => !used.has(host))
    if (free.length === 0) return
    const found = (camera: FoundVisca) =>
      this.add(search, camera, camera.device ?? 'VISCA camera', quirkWords(camera.quirks))
    await findVisca(free, signal, found, progress)
  }

  private onvif(search: Search, signal: AbortSignal): Promise<void> {
    return findOnvif(signal, ({ addresses, scopes }) => {
      for (const address of addresses) {
        const url = parsedUrl(address)
        if (!url) continue
        const secure = url.protocol === 'https:'
        if (!(secure || url.protocol === 'http:') || url.hostname.includes(':')) continue
        const name = scopeValue(scopes, 'name') ?? scopeValue(scopes, 'hardware') ?? 'ONVIF camera'
        const at = { host: url.hostname, port: portOf(url), user: '', ...(secure && { secure }) }
        this.add(search, { kind: 'onvif', ...at }, name)
        return
      }
    })
  }

  private async serial(search: Search, signal: AbortSignal): Promise<void> {
    for (const { path } of await serialPorts()) {
      if (signal.aborted) return
      await findSerial(this.context.lines, path, signal, ({ address }) =>
        this.add(
          search,
          { kind: 'visca-serial', path, baud: 9600, format: '8N1', address },
          `Camera ${address} of the chain`,
        ),
      )
    }
  }

  /** The camera of the list that is reached at the same address in another way. */
  private at(connection: SingleConnection) {
    if (!('host' in connection)) return undefined
    const { host } = connection
    const isAt = (c: Connection): boolean =>
      c.kind === 'rig' ? isAt(c.head) || isAt(c.lens) : 'host' in c && c.host === host
    return this.context.cameras().find((c) => isAt(c.connection))
  }

  private add(
    search: Search,
    camera: SingleConnection & { device?: unknown },
    title: string,
    remarks: string[] = [],
  ): void {
    const parsed = v.safeParse(SingleConnection, camera)
    // Whatever answers a search may say what it likes: an address that makes no sense is no camera.
    if (!parsed.success || search.found.length >= MOST_FOUND) return
    const connection = parsed.output
    const keys = deviceKeys(connection)
    const same = this.context
      .cameras()
      .find((c) => deviceKeys(c.connection).some((key) => keys.includes(key)))
    const beside = same ? undefined : this.at(connection)
    search.found.push({
      connection,
      title,
      address: `${kindWords(connection)}, ${addressText(connection)}`,
      known: same ? `${same.number} ${same.name}` : null,
      needsLogin: connection.kind === 'onvif',
      remarks: beside
        ? [
            ...remarks,
            `Camera ${beside.number}, ${beside.name}, has the same address. They may be one and the same.`,
          ]
        : remarks,
    })
  }
}
