/** Addresses that a device tells of itself, which may be those of another network. */
import { connect } from 'node:net'
import { parsedUrl } from '../../core/safely'
import { portOf, resolveTarget } from './targets'

const WITHIN_MS = 1200

/** Does anything take a connection there? */
export async function isReachable(host: string, port: number): Promise<boolean> {
  const address = await resolveTarget(host, port).catch(() => null)
  if (address === null) return false
  return new Promise((resolve) => {
    const socket = connect({ host: address, port })
    const end = (answer: boolean) => {
      clearTimeout(late)
      socket.destroy()
      resolve(answer)
    }
    const late = setTimeout(() => end(false), WITHIN_MS)
    socket.on('connect', () => end(true))
    socket.on('error', () => end(false))
  })
}

/** The address as it is; with the host by which the device is known where only that one answers. */
export async function reachableAddress(address: string, knownHost: string): Promise<string> {
  const url = parsedUrl(address)
  if (!url || url.hostname === knownHost.toLowerCase()) return address
  const port = portOf(url)
  if (await isReachable(url.hostname, port)) return address
  if (!(await isReachable(knownHost, port))) return address
  return address.replace(`//${url.host}`, `//${url.port ? `${knownHost}:${url.port}` : knownHost}`)
}
