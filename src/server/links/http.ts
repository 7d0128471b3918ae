/** One HTTP request to a device: bounded in time and size, with basic or digest login. */
import { type Agent, request as httpRequest, type IncomingHttpHeaders } from 'node:http'
import { request as httpsRequest } from 'node:https'
import { DeviceFault } from '../cameras/deviceFault'
import { PINNED } from './certificates'
import { asksDigest, loginHeader } from './httpLogin'
import { checkedRequest } from './targets'
import { troubleText } from './troubles'

export interface HttpLogin {
  user: string
  password: string
  /** Somebody agreed that it is sent without encryption, where the device takes nothing else. */
  openly?: boolean | undefined
}

export interface HttpOrder {
  url: URL
  method?: 'GET' | 'POST' | 'PUT' | 'HEAD'
  body?: string
  contentType?: string
  login?: HttpLogin | null
  timeoutMs?: number
  maxBytes?: number
  /** What comes after that is left out instead of being a fault. */
  cut?: boolean
  /** It may lead to this computer; true unless it is said. */
  local?: boolean
  agent?: Agent
}

export interface HttpAnswer {
  status: number
  headers: IncomingHttpHeaders
  body: Buffer
}

/** Sends a request and brings its answer: `http`, or what stands for it. */
export type Requests = (order: HttpOrder) => Promise<HttpAnswer>

const TIMEOUT_MS = 1500
const MAX_BYTES = 1024 * 1024

function once(order: HttpOrder, authorization: string | null): Promise<HttpAnswer> {
  const { url, method = 'GET', body, contentType, agent } = order
  const timeoutMs = order.timeoutMs ?? TIMEOUT_MS
  const maxBytes = order.maxBytes ?? MAX_BYTES
  const headers: Record<string, string | number> = {}
  if (body !== undefined) {
    headers['content-type'] = contentType ?? 'text/plain'
    headers['content-length'] = Buffer.byteLength(body)
  }
  if (authorization) headers.authorization = authorization
  return new Promise((resolve, reject) => {
    const fail = (error: NodeJS.ErrnoException) => {
      clearTimeout(timer)
      reject(
        error instanceof DeviceFault
          ? error
          : error.code?.startsWith('HPE_')
            ? new DeviceFault('nonsense', 'Whatever answers there does not speak HTTP.', error.code)
            : new DeviceFault('network', troubleText(error), error.code ?? null),
      )
    }
    const secure = url.protocol === 'https:'
    const send = secure ? httpsRequest : httpRequest
    let checked: ReturnType<typeof checkedRequest>
    try {
      checked = checkedRequest(url, order.local ?? true)
    } catch (error) {
      return reject(new DeviceFault('network', (error as Error).message, 'TARGET_REFUSED'))
    }
    const options = { method, headers, agent: agent ?? (secure ? PINNED : undefined), ...checked }
    const request = send(url, options, (response) => {
      const pieces: Buffer[] = []
      let bytes = 0
      response.on('data', (piece: Buffer) => {
        bytes += piece.length
        if (bytes > maxBytes && order.cut) {
          clearTimeout(timer)
          pieces.push(piece.subarray(0, piece.length - (bytes - maxBytes)))
          resolve({
            status: response.statusCode ?? 0,
            headers: response.headers,
            body: Buffer.concat(pieces),
          })
          request.destroy()
        } else if (bytes > maxBytes)
          request.destroy(new DeviceFault('nonsense', 'The camera sends far more data than it should.'))
        else pieces.push(piece)
      })
      response.on('end', () => {
        clearTimeout(timer)
        resolve({ status: response.statusCode ?? 0, headers: response.headers, body: Buffer.concat(pieces) })
      })
      response.on('error', fail)
    })
    const timer = setTimeout(() => {
      request.destroy(Object.assign(new Error('timeout'), { code: 'ETIMEDOUT' }))
    }, timeoutMs)
    request.on('error', fail)
    request.end(body)
  })
}

/** Devices that have asked for Digest once never get Basic again, which would show the password. */
const knowsDigest = new Set<string>()
/** A device's last challenge, so that the next request can answer it in advance. */
const challenges = new Map<string, { asked: string[]; uses: number }>()
const MOST_REMEMBERED = 10_000

const DOWNGRADED =
  'This device asked for a login by Digest before and now wants the password in the open, so it was not sent. Check who answers at this address.'
const OPENLY =
  'The camera takes its password only in the open (Basic), so that everybody on this network could read it. It was not sent. Use HTTPS if the camera can, or allow it in its settings: “Password in the open”.'
const UNKNOWN_LOGIN = 'The camera asks for a kind of login that is not supported.'

/** @throws DeviceFault if none of its challenges may be answered */
export function answerChallenge(
  url: URL,
  asked: readonly string[],
  login: HttpLogin,
  method: string,
  uses = 1,
): string {
  if (asksDigest(asked)) {
    if (knowsDigest.size > MOST_REMEMBERED) knowsDigest.clear()
    knowsDigest.add(url.host)
  }
  const downgraded = knowsDigest.has(url.host)
  const agreed = url.protocol === 'https:' || login.openly === true
  const answer = (basicToo: boolean) =>
    loginHeader(asked, login, method, url.pathname + url.search, { basicToo, uses })
  const header = answer(!downgraded && agreed)
  if (header !== null) return header
  if (downgraded) throw new DeviceFault('login', DOWNGRADED)
  throw answer(true) === null
    ? new DeviceFault('login', UNKNOWN_LOGIN)
    : new DeviceFault('open-password', OPENLY)
}

/** The answer to what the device asked last time; null if it has not asked yet. */
function remembered(key: string, order: HttpOrder, login: HttpLogin): string | null {
  const known = challenges.get(key)
  if (!known) return null
  known.uses += 1
  return answerChallenge(order.url, known.asked, login, order.method ?? 'GET', known.uses)
}

/**
 * Sends without a login first, unless the device asked for one before; answers its challenge once.
 * @throws DeviceFault of kind network, login or nonsense
 */
export async function http(order: HttpOrder): Promise<HttpAnswer> {
  const login = order.login && order.login.user !== '' ? order.login : null
  const key = login ? `${order.url.origin} ${login.user}` : ''
  const first = await once(order, login && remembered(key, order, login))
  if (first.status !== 401) return first
  if (!login) throw new DeviceFault('login', 'The camera asks for a login. Enter its user and password.')
  const asked = [first.headers['www-authenticate'] ?? []].flat()
  const header = answerChallenge(order.url, asked, login, order.method ?? 'GET')
  const second = await once(order, header)
  if (second.status === 401 || second.status === 403) {
    challenges.delete(key)
    throw new DeviceFault('login', 'The camera refuses this login. Check the user and the password.')
  }
  if (challenges.size > MOST_REMEMBERED) challenges.clear()
  challenges.set(key, { asked, uses: 1 })
  return second
}
