/** Only pages that this server itself has served may talk to it. */
import { hostname, networkInterfaces } from 'node:os'

/** Host names under which this computer may be asked, without ports. */
export function ownHosts(open: boolean): Set<string> {
  const hosts = new Set(['127.0.0.1', 'localhost', '[::1]'])
  if (!open) return hosts
  const name = hostname().toLowerCase()
  hosts.add(name).add(`${name}.local`)
  for (const addresses of Object.values(networkInterfaces())) {
    for (const { address, family } of addresses ?? []) {
      hosts.add(family === 'IPv6' ? `[${address}]` : address)
    }
  }
  return hosts
}

/** Is the Host header one of ours? A page elsewhere whose name was pointed at us does not pass. */
export function hostAllowed(host: string | undefined, hosts: ReadonlySet<string>): boolean {
  return host !== undefined && hosts.has(host.toLowerCase().replace(/:\d+$/, ''))
}

/** Does the Origin header name the very host that was asked? */
export function originAllowed(origin: string | undefined, host: string | undefined): boolean {
  if (!origin || !host) return false
  try {
    return new URL(origin).host === host.toLowerCase()
  } catch {
    return false
  }
}
