/** MJPEG over HTTP. */
import { type ClientRequest, get as httpGet, type IncomingMessage } from 'node:http'
import { get as httpsGet } from 'node:https'
import { parsedUrl } from '../../core/safely'
import { PINNED } from '../links/certificates'
import { answerChallenge, type HttpLogin } from '../links/http'
import { checkedRequest } from '../links/targets'
import { troubleText } from '../links/troubles'
import type { Opener } from './feed'
import { boundaryOf, MultipartReader } from './multipart'

export const LOGIN_REFUSED =
  'The picture needs a login that is refused. Check the user and the password of the picture.'

export function openMjpeg(address: string, login: HttpLogin): Opener {
  const url = parsedUrl(address)
  if (!url) throw new RangeError('no address')
  const get = url.protocol === 'https:' ? httpsGet : httpGet
  return (events) => {
    let request: ClientRequest | null = null
    let closed = false

    const start = (authorization: string | null) => {
      const headers = authorization ? { authorization } : {}
      let mine: ClientRequest
      try {
        const agent = url.protocol === 'https:' ? PINNED : undefined
        const options = { headers, agent, ...checkedRequest(url) }
        mine = get(url, options, (response) => answered(response, authorization))
      } catch (error) {
        return events.end((error as Error).message)
      }
      request = mine
      mine.on('error', (error) => request === mine && events.end(troubleText(error)))
    }

    const answered = (response: IncomingMessage, authorization: string | null) => {
      if (response.statusCode === 401 && !authorization && login.user !== '') {
        const former = request
        request = null
        former?.destroy()
        if (closed) return
        try {
          start(answerChallenge(url, [response.headers['www-authenticate'] ?? []].flat(), login, 'GET'))
        } catch (error) {
          events.end((error as Error).message)
        }
        return
      }
      const boundary = boundaryOf(response.headers['content-type'])
      if (response.statusCode !== 200 || !boundary) {
        response.destroy()
        events.end(wrong(response.statusCode ?? 0))
        return
      }
      const reader = new MultipartReader(boundary)
      response.on('data', (piece: Buffer) => {
        for (const jpeg of reader.push(piece)) events.jpeg(jpeg)
      })
      response.on('error', () => events.end(null))
      response.on('end', () => events.end(null))
    }

    start(null)
    return () => {
      closed = true
      const last = request
      request = null
      last?.destroy()
    }
  }
}

function wrong(status: number): string {
  if (status === 401 || status === 403) return LOGIN_REFUSED
  if (status === 404) return 'There is no picture under this address. Check the path of the picture.'
  return status === 200
    ? 'What is under the address of the picture is no MJPEG stream. If it is a single JPEG, choose that kind.'
    : `The camera refuses its picture (HTTP ${status}).`
}
