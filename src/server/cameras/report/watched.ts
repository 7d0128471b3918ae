/** Puts an ear on the ways to a camera, for its report. */
import type { CommandRequest } from '../../../core/commands/commandSet'
import { fillTemplate, type Values } from '../../../core/commands/template'
import type { Message } from '../../../core/onvif/soap'
import { packetWords } from '../../../core/visca/packetWords'
import type { Link } from '../../links/link'
import type { Wire } from '../commands/wire'
import type { OnvifCalls } from '../onvif/client'
import type { Traffic } from './traffic'

const LONGEST_TEXT = 600
/** A login in an address that a device tells. */
const LOGIN = /\/\/[^/@\s"<]+@/g
const plain = (text: string) => text.replace(LOGIN, '//***@').slice(0, LONGEST_TEXT)

export function watchedLink(link: Link, traffic: Traffic, framed: boolean): Link {
  const note = (way: 'out' | 'in', bytes: Uint8Array) => {
    const copy = bytes.slice()
    traffic.note(way, copy, () => packetWords(copy, framed))
  }
  return {
    ...link,
    send(bytes) {
      note('out', bytes)
      link.send(bytes)
    },
    onReceive(listener) {
      link.onReceive((bytes, elsewhere) => {
        note('in', bytes)
        listener(bytes, elsewhere)
      })
    },
  }
}

const operation = (body: string) => /<\w+:(\w+)/.exec(body)?.[1] ?? 'a request'

/** Requests are noted without the login that seals them. */
export function watchedOnvif(client: OnvifCalls, traffic: Traffic): OnvifCalls {
  return {
    readClock: () => client.readClock(),
    prepared: (service, body) => client.prepared(service, body),
    get login() {
      return client.login
    },
    close: () => client.close(),
    async call(service: string, body: string): Promise<Message> {
      const name = operation(body)
      traffic.note('out', plain(body), name)
      const from = performance.now()
      try {
        const answer = await client.call(service, body)
        const ms = Math.round(performance.now() - from)
        traffic.note('in', () => plain(JSON.stringify(answer.body)), `${name} answered in ${ms} ms`)
        return answer
      } catch (error) {
        traffic.note('in', '', `${name} failed: ${(error as Error).message}`)
        throw error
      }
    },
  }
}

export function watchedWire(wire: Wire, traffic: Traffic): Wire {
  return {
    async send(request: CommandRequest, values: Values, wantsAnswer: boolean): Promise<string> {
      const text = [request.path, request.text].map((t) => (t === undefined ? '' : fillTemplate(t, values)))
      const sent = plain(text.filter(Boolean).join(' '))
      traffic.note('out', sent, sent)
      try {
        const answer = await wire.send(request, values, wantsAnswer)
        if (answer !== '') traffic.note('in', plain(answer), plain(answer))
        return answer
      } catch (error) {
        traffic.note('in', '', `Failed: ${(error as Error).message}`)
        throw error
      }
    },
    close: () => wire.close(),
  }
}
