/** Asks an address whether a VISCA camera answers there. */
import { connect } from 'node:net'
import { deviceWords, type Version } from '../../core/heads/version'
import { FramedSession } from '../../core/visca/framedSession'
import { quirkWords } from '../../core/visca/quirks'
import { RawSession } from '../../core/visca/rawSession'
import type { ViscaSession } from '../../core/visca/session'
import { troubleText } from '../links/troubles'
import { openUdp, VISCA_FIXED_PORT } from '../links/udp'
import { type Success, Trouble } from './outcome'

/** Long enough to try a camera that answers from elsewhere, and one that never resets its numbers. */
const ANSWER_WITHIN_MS = 2800
const TICK_MS = 15

export const STANDBY_REMARK = 'It is in standby. It can be added, and switched on from the Desk.'

/** @throws Trouble */
export function asTrouble(error: NodeJS.ErrnoException): Trouble {
  const text = troubleText(error)
  switch (error.code) {
    case 'ECONNREFUSED':
      return new Trouble('nothing-listens', text)
    case 'ENETUNREACH':
    case 'EHOSTUNREACH':
    case 'EHOSTDOWN':
    case 'EACCES':
    case 'EINVAL':
    case 'EADDRNOTAVAIL':
      return new Trouble('no-route', text)
    case 'ETIMEDOUT':
      return new Trouble('no-answer', text)
    default:
      return new Trouble('other', text)
  }
}

interface Pipe {
  send(bytes: Uint8Array): void
  close(): void
}

/** Talks until the camera told its version and its power, or the time is over. */
function talk(
  session: ViscaSession,
  open: (on: { bytes(bytes: Uint8Array): void; error(error: NodeJS.ErrnoException): void }) => Pipe,
  kind: 'UDP' | 'TCP',
): Promise<Success> {
  return new Promise((resolve, reject) => {
    const from = performance.now()
    let heard = false
    let version: Version | null = null
    let on: boolean | null = null
    let unknown = 0
    const end = (done: () => void) => {
      clearInterval(timer)
      pipe.close()
      done()
    }
    const succeed = () => {
      const remarks = [...(on === false ? [STANDBY_REMARK] : []), ...quirkWords(session.quirks)]
      const device = version && deviceWords(version)
      resolve({ device, version, remarks, roundTripMs: session.stats.roundTripMs, pictures: [] })
    }
    const step = () => {
      const now = performance.now()
      session.advance(now)
      for (const event of session.takeEvents()) {
        if (event.type === 'knows' && !event.known) unknown += 1
        else if (event.type === 'answer' && event.answer.kind === 'power') on = event.answer.on
        else if (event.type === 'answer' && event.answer.kind === 'version') version = event.answer
      }
      // Asked again until it comes: it may refuse at first, or not hear.
      if (on === null) session.ask('power', now)
      if (version === null) session.ask('version', now)
      for (const bytes of session.takeDatagrams()) pipe.send(bytes)
      const told = (on === null ? 0 : 1) + (version === null ? 0 : 1) + unknown
      if (session.state === 'ready' && told >= 2) end(succeed)
      else if (now - from > ANSWER_WITHIN_MS)
        end(() => (session.state === 'ready' ? succeed() : reject(silence(heard, kind))))
    }
    const pipe = open({
      bytes: (bytes) => {
        heard = true
        session.receive(bytes, performance.now())
        step()
      },
      error: (error) => end(() => reject(asTrouble(error))),
    })
    const timer = setInterval(step, TICK_MS)
  })
}

function silence(heard: boolean, kind: 'UDP' | 'TCP'): Trouble {
  if (heard)
    return new Trouble(
      'not-this-protocol',
      'Something answers there, but it does not speak this kind of VISCA.',
    )
  return kind === 'TCP'
    ? new Trouble('not-this-protocol', 'Something listens on this port, but it does not answer VISCA.')
    : new Trouble(
        'no-answer',
        'Nothing answers. Check that the camera is on, its cable, and that its address is the right one.',
      )
}

const REFUSED = troubleText({ code: 'ECONNREFUSED', message: '' })

/** Over the same kind of link as later, so that an answer from another port, or to a fixed one, counts as well. */
export function tryViscaUdp(address: string, port: number, framed: boolean): Promise<Success> {
  const session = framed ? new FramedSession({ nonce: Date.now() % 0xffffffff }) : new RawSession({})
  return talk(
    session,
    (on) => {
      const link = openUdp(address, port, framed ? VISCA_FIXED_PORT : null)
      link.onReceive((bytes, elsewhere) => {
        if (elsewhere) session.note('otherPort', performance.now())
        on.bytes(bytes)
      })
      link.onTrouble((text) => {
        if (text === null) return
        on.error({ ...new Error(text), message: text, code: text === REFUSED ? 'ECONNREFUSED' : undefined })
      })
      return link
    },
    'UDP',
  )
}

export function tryViscaTcp(address: string, port: number): Promise<Success> {
  return talk(
    new RawSession({}),
    (on) => {
      const socket = connect({ host: address, port, noDelay: true })
      const deadline = setTimeout(
        () => socket.connecting && on.error(Object.assign(new Error(), { code: 'ETIMEDOUT' })),
        ANSWER_WITHIN_MS - 200,
      )
      socket.on('error', on.error)
      socket.on('data', on.bytes)
      return {
        // The first question waits for the connection.
        send: (bytes) => socket.write(bytes),
        close: () => {
          clearTimeout(deadline)
          socket.removeAllListeners()
          socket.on('error', () => {})
          socket.destroy()
        },
      }
    },
    'TCP',
  )
}
