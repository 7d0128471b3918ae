/** One HTTP request to a device: bounded in time and size, with basic or digest login. */
import { type Agent, request as httpRequest, type IncomingHttpHeaders } from 'node:http'
import { request as httpsRequest } from 'node:https'
import { DeviceFault } from '../cameras/deviceFault'
import { basicHeader, digestHeader } from './httpLogin'
import { troubleText } from './troubles'

export interface HttpLogin {
  user: string
  password: string
}

export interface HttpOrder {
  url: URL
  method?: 'GET' | 'POST' | 'PUT' | 'HEAD'
  body?: string
  contentType?: string
  login?: HttpLogin | null
  timeoutMs?: number
  maxBytes?: number
  agent?: Agent
}

export interface HttpAnswer {
  status: number
  headers: IncomingHttpHeaders
  body: Buffer
}

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
            ? new DeviceFault('nonsense', 'What answers there does not speak HTTP.', error.code)
            : new DeviceFault('network', troubleText(error), error.code ?? null),
      )
    }
    const send = url.protocol === 'https:' ? httpsRequest : httpRequest
    // Cameras sign their certificates themselves.
    const options = { method, headers, agent, rejectUnauthorized: false }
    const request = send(url, options, (response) => {
      const pieces: Buffer[] = []
      let bytes = 0
      response.on('data', (piece: Buffer) => {
        bytes += piece.length
        if (bytes > maxBytes)
          request.destroy(new DeviceFault('nonsense', 'The camera sends more than makes sense.'))
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

/**
 * Sends without a login first, unless the camera asked for one before; answers its challenge once.
 * @throws DeviceFault of kind network, login or nonsense
 */
export async function http(order: HttpOrder): Promise<HttpAnswer> {
  const first = await once(order, null)
  if (first.status !== 401) return first
  const { login } = order
  const challenge = String(first.headers['www-authenticate'] ?? '')
  if (!login || login.user === '')
    throw new DeviceFault('login', 'The camera asks for a login. Enter its user and password.')
  const header = /^digest/i.test(challenge)
    ? digestHeader(challenge, login, order.method ?? 'GET', order.url.pathname + order.url.search)
    : basicHeader(login)
  const second = await once(order, header)
  if (second.status === 401 || second.status === 403)
    throw new DeviceFault('login', 'The camera refuses this login. Check the user and the password.')
  return second
}
