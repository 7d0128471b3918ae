/**
 * Where this server may send what users, files and cameras name as a target: not to itself, and not to
 * link-local addresses, behind which computers keep services that trust whoever asks.
 */
import { type LookupAddress, type LookupOptions, lookup as systemLookup } from 'node:dns'
import { BlockList, isIP } from 'node:net'
import { networkInterfaces } from 'node:os'
import { NOT_KNOWN } from './troubles'

export class TargetRefused extends Error {
  readonly code = 'TARGET_REFUSED'
}

const ITSELF =
  'This is an address of Steady Heron itself, and no camera. Enter the address that the camera shows in its menu.'
const LINK_LOCAL =
  'Addresses that begin with 169.254 or fe80 are not used, as they lead to services of this computer too. Give the camera an address of your network.'
const NOWHERE = 'No camera can have this address. Enter the one that the camera shows in its menu.'

const linkLocal = new BlockList()
linkLocal.addSubnet('169.254.0.0', 16, 'ipv4')
linkLocal.addSubnet('fe80::', 10, 'ipv6')
const nowhere = new BlockList()
nowhere.addSubnet('224.0.0.0', 4, 'ipv4')
nowhere.addSubnet('ff00::', 8, 'ipv6')
const loopback = new BlockList()
loopback.addSubnet('127.0.0.0', 8, 'ipv4')
loopback.addSubnet('0.0.0.0', 8, 'ipv4')
loopback.addAddress('::1', 'ipv6')
loopback.addAddress('::', 'ipv6')

const LOOPBACK =
  'This address leads to this computer itself. Allow it in the settings of the device if it is meant.'
const ownPorts = new Set<number>()

/** Ports of this computer at which we, or our database, listen. */
export function ownPort(port: number): void {
  ownPorts.add(port)
}

/** `::ffff:127.0.0.1` is 127.0.0.1. */
const plain = (address: string) => address.replace(/^\[|\]$/g, '').replace(/^::ffff:(?=\d+\.)/i, '')

const familyOf = (address: string) => (isIP(address) === 4 ? 'ipv4' : 'ipv6')

/** Why this address is refused where this computer itself is not to be reached; null if it may be used. */
export function loopbackRefusal(address: string): string | null {
  const bare = plain(address)
  return isIP(bare) !== 0 && isOwn(bare, familyOf(bare)) ? LOOPBACK : null
}

function isOwn(address: string, family: 'ipv4' | 'ipv6'): boolean {
  if (loopback.check(address, family)) return true
  return Object.values(networkInterfaces()).some((all) => all?.some((a) => a.address === address))
}

/** Why this address and port are refused, as a sentence; null if they may be used. @param address digits */
export function refusalOf(address: string, port: number): string | null {
  const bare = plain(address)
  const version = isIP(bare)
  if (version === 0) return null
  const family = version === 4 ? 'ipv4' : 'ipv6'
  if (linkLocal.check(bare, family)) return LINK_LOCAL
  if (nowhere.check(bare, family)) return NOWHERE
  return ownPorts.has(port) && isOwn(bare, family) ? ITSELF : null
}

/** @throws TargetRefused if the address is refused; a name is looked at when it is resolved */
function checkTarget(host: string, port: number): void {
  const refusal = refusalOf(host, port)
  if (refusal) throw new TargetRefused(refusal)
}

/** Resolves a name, or takes digits as they are, to an IPv4 address. @throws TargetRefused, or Error in words */
export function resolveTarget(host: string, port: number, local = true): Promise<string> {
  return new Promise((resolve, reject) => {
    systemLookup(host, 4, (error, address) => {
      if (error) return reject(Object.assign(new Error(NOT_KNOWN(host)), { code: error.code }))
      const refusal = refusalOf(address, port) ?? (local ? null : loopbackRefusal(address))
      if (refusal) reject(new TargetRefused(refusal))
      else resolve(address)
    })
  })
}

type Found = (error: Error | null, address: string | LookupAddress[], family?: number) => void

/** For requests to names: each address that a name stands for is looked at before it is connected to. */
export const checkedLookup =
  (port: number, local = true) =>
  (host: string, options: LookupOptions, found: Found): void => {
    systemLookup(host, { ...options, all: true }, (error, addresses) => {
      if (error) return found(error, [])
      const refusal = addresses
        .map(({ address }) => refusalOf(address, port) ?? (local ? null : loopbackRefusal(address)))
        .find((x) => x !== null)
      if (refusal) return found(new TargetRefused(refusal), [])
      const [first] = addresses
      if (options.all) found(null, addresses)
      else found(null, first!.address, first!.family)
    })
  }

const USUAL = { 'http:': 80, 'https:': 443, 'rtsp:': 554, 'rtsps:': 322 } as const

/** The port of an address, also where it stands for the usual one. */
export const portOf = (url: URL): number =>
  url.port === '' ? (USUAL[url.protocol as keyof typeof USUAL] ?? 0) : Number(url.port)

/** Options for a request to this address. @param local it may lead to this computer @throws TargetRefused */
export function checkedRequest(url: URL, local = true): { lookup: ReturnType<typeof checkedLookup> } {
  const port = portOf(url)
  checkTarget(url.hostname, port)
  const refusal = local ? null : loopbackRefusal(url.hostname)
  if (refusal) throw new TargetRefused(refusal)
  return { lookup: checkedLookup(port, local) }
}
