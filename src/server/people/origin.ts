/** Only pages that this server itself has served may talk to it. */
import { hostname, networkInterfaces } from 'node:os'
import { parsedUrl } from '../../core/safely'

const KEPT_MS = 3000
let kept: { atMs: number; hosts: ReadonlySet<string> } | null = null

/** Host names under which this computer may be asked, without ports; read again as the network changes. */
export function ownHosts(open: boolean, nowMs = performance.now()): ReadonlySet<string> {
  if (!open) return LOOPBACK
  if (kept && nowMs - kept.atMs < KEPT_MS) return kept.hosts
  const hosts = new Set(LOOPBACK)
  const name = hostname().toLowerCase()
  hosts.add(name).add(`${name}.local`)
  for (const addresses of Object.values(networkInterfaces())) {
    for (const { address, family } of addresses ?? []) {
      hosts.add(family === 'IPv6' ? `[${address}]` : address)
    }
  }
  kept = { atMs: nowMs, hosts }
  return hosts
}

/** With the name that a proxy gives it. */
export function withPublic(hosts: ReadonlySet<string>, name: string | null): ReadonlySet<string> {
  return name === null ? hosts : new Set([...hosts, name.toLowerCase()])
}

/** IPv4 addresses under which others reach this computer. @param host what it listens on */
export function networkAddresses(host: string): string[] {
  if (host !== '0.0.0.0' && host !== '::') return [host]
  return Object.values(networkInterfaces())
    .flatMap((all) => all ?? [])
    .filter(({ family, internal }) => family === 'IPv4' && !internal)
    .map(({ address }) => address)
}

const LOOPBACK: ReadonlySet<string> = new Set(['127.0.0.1', 'localhost', '[::1]'])

/** Is the Host header one of ours? A page elsewhere whose name was pointed at us does not pass. */
export function hostAllowed(host: string | undefined, hosts: ReadonlySet<string>): boolean {
  return host !== undefined && hosts.has(host.toLowerCase().replace(/:\d+$/, ''))
}

/** Does the Origin header name the very host that was asked? */
export function originAllowed(origin: string | undefined, host: string | undefined): boolean {
  return !!origin && !!host && parsedUrl(origin)?.host === host.toLowerCase()
}
