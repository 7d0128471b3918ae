/** Stops over HTTP: each group of requests on its own, until one of it was answered well. */
import { request as httpRequest } from 'node:http'
import { request as httpsRequest } from 'node:https'
import type { StopLogin, StopRequest } from '../core/guardian/stopOrder'
import { loginHeader } from '../server/links/httpLogin'
import { PinnedAgent } from '../server/links/pinned'
import type { StopRun } from './run'

const WITHIN_MS = 600
const AGAIN_MS = 120

interface Answer {
  status: number
  challenges: string[]
}

/** A camera is stopped only if it is the one that was known. */
const agentFor = (certificate: string | null) =>
  new PinnedAgent((_, shown) =>
    certificate === null || certificate === shown ? null : new Error('another certificate'),
  )

function once(order: StopRequest, login: StopLogin | null, authorization: string | null): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const url = new URL(order.url)
    const headers: Record<string, string | number> = { connection: 'close' }
    if (order.body !== null) {
      headers['content-type'] = order.contentType
      headers['content-length'] = Buffer.byteLength(order.body)
    }
    if (authorization) headers.authorization = authorization
    const secure = url.protocol === 'https:'
    const send = secure ? httpsRequest : httpRequest
    const agent = secure ? agentFor(login?.certificate ?? null) : undefined
    const request = send(url, { method: order.method, headers, agent }, (response) => {
      clearTimeout(late)
      response.resume()
      const asked = response.headers['www-authenticate']
      resolve({ status: response.statusCode ?? 0, challenges: asked === undefined ? [] : [asked].flat() })
    })
    const late = setTimeout(() => request.destroy(new Error('late')), WITHIN_MS)
    request.on('error', (error) => {
      clearTimeout(late)
      reject(error)
    })
    request.end(order.body ?? undefined)
  })
}

async function ask(order: StopRequest, login: StopLogin | null): Promise<boolean> {
  const first = await once(order, login, null)
  if (first.status !== 401 || !login) return first.status >= 200 && first.status < 300
  const url = new URL(order.url)
  const header = loginHeader(first.challenges, login, order.method, url.pathname + url.search, {
    basicToo: login.openly || url.protocol === 'https:',
  })
  if (!header) return false
  const second = await once(order, login, header)
  return second.status >= 200 && second.status < 300
}

export function httpStop(groups: readonly StopRequest[][], login: StopLogin | null): StopRun {
  let ended = false
  const open = new Set<readonly StopRequest[]>(groups.filter((group) => group.length > 0))
  const run = async (group: readonly StopRequest[]) => {
    for (let i = 0; !ended; i++) {
      const done = await ask(group[i % group.length]!, login).catch(() => false)
      // One more, since a drive already under way may have arrived after it.
      if (done && i > 0) break
      await new Promise((resolve) => setTimeout(resolve, AGAIN_MS))
    }
    open.delete(group)
  }
  for (const group of groups) void run(group)
  return {
    get answered() {
      return open.size === 0
    },
    end() {
      ended = true
    },
  }
}
