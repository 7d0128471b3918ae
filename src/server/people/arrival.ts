/** How a request came: over which connection, from where, under which name, also where a proxy stands before us. */
import { getConnInfo } from '@hono/node-server/conninfo'
import type { Context } from 'hono'
import { parsedUrl } from '../../core/safely'

export interface Outside {
  /** Where others reach the desk, as `https://desk.example`; null: as this computer is called. */
  publicUrl: URL | null
  /** The path under which it is served there, as `/desk`; '' for none. */
  base: string
  /** How many proxies stand before the server, whose word on the sender is taken. */
  proxies: number
  /** The server itself speaks TLS. */
  secure: boolean
}
export const DIRECT: Outside = { publicUrl: null, base: '', proxies: 0, secure: false }

/** @throws with a sentence, where the settings make no sense */
export function outsideFrom(env: Readonly<Record<string, string | undefined>>): Outside {
  const { PUBLIC_URL = '', TRUST_PROXY = '', HTTPS = '' } = env
  const publicUrl = PUBLIC_URL === '' ? null : parsedUrl(PUBLIC_URL)
  if (PUBLIC_URL !== '' && (!publicUrl || !/^https?:$/.test(publicUrl.protocol)))
    throw new Error(`PUBLIC_URL=${PUBLIC_URL} is no address. Write it as https://desk.example.`)
  const base = publicUrl?.pathname.replace(/\/+$/, '') ?? ''
  if (!/^(\/[A-Za-z0-9._~-]+)*$/.test(base) || (publicUrl && publicUrl.search + publicUrl.hash !== ''))
    throw new Error(`PUBLIC_URL=${PUBLIC_URL} is no address. Write it as https://desk.example/heron.`)
  const proxies = TRUST_PROXY === '' ? 0 : Number(TRUST_PROXY)
  if (!Number.isInteger(proxies) || proxies < 0 || proxies > 5)
    throw new Error(`TRUST_PROXY=${TRUST_PROXY} makes no sense. Give the number of proxies, as 1.`)
  return { publicUrl, base, proxies, secure: HTTPS === '1' }
}

/** The address of whoever asks; of proxies only as many are believed as stand before us. */
export function senderOf(c: Context, { proxies }: Outside): string {
  const last = lastHop(c)
  if (proxies === 0) return last
  const told = (c.req.header('x-forwarded-for') ?? '')
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean)
  return told.at(-proxies)?.slice(0, 64) ?? last
}

function lastHop(c: Context): string {
  try {
    return getConnInfo(c).remote.address ?? ''
  } catch {
    return ''
  }
}

/** Is it a secure connection as the browser sees it? */
export const isSecure = ({ publicUrl, secure }: Outside): boolean =>
  secure || publicUrl?.protocol === 'https:'

/** The address without the base path; a proxy may send it with that or without. */
export function withoutBase(url: string, base: string): string {
  if (base === '' || !url.startsWith(base)) return url
  const rest = url.slice(base.length)
  return rest === '' || /^[/?]/.test(rest) ? `/${rest.replace(/^\//, '')}` : url
}
