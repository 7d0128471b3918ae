/** What a stand-in's ONVIF services answer, without the socket: device, media, PTZ, imaging. */
import { createHash } from 'node:crypto'
import {
  child,
  envelope,
  faultEnvelope,
  type Message,
  type Node,
  parseEnvelope,
  textOf,
} from '../../core/onvif/soap'
import type { Head } from '../body/head'
import { type Faults, NO_FAULTS } from '../protocol/faults'
import { REAL_TIME, type Time } from '../time'
import type { OnvifActions } from './actions'
import { deviceAnswer, type OnvifOptions } from './deviceAnswers'
import { mediaAnswer, PROFILE, VIDEO_SOURCE } from './mediaAnswers'
import { requestIn, SERVICES, type Service, serviceAt } from './services'

/** A login older or newer than this is refused, ms. */
const LOGIN_VALID_MS = 5000

class Refused extends Error {
  constructor(
    readonly code: 'Sender' | 'Receiver',
    readonly subcode: string,
    reason: string,
  ) {
    super(reason)
  }
}

export class OnvifAnswers {
  faults: Faults = NO_FAULTS
  private readonly usedNonces = new Set<string>()

  constructor(
    private readonly options: OnvifOptions,
    private readonly head: Head,
    private readonly actions: OnvifActions,
    private readonly time: Time = REAL_TIME,
  ) {}

  /** @returns status and XML */
  answer(path: string, text: string): [number, string] {
    try {
      const service = serviceAt(path)
      if (!service) return [404, faultEnvelope('Sender', 'ter:UnknownAction', 'There is no service here')]
      const message = parseEnvelope(text)
      const [name, value] = Object.entries(message.body).find(([key]) => !key.startsWith('@')) ?? ['', {}]
      const request: Node = typeof value === 'object' && !Array.isArray(value) ? value : {}
      if (name !== 'GetSystemDateAndTime') this.checkLogin(message)
      this.head.advance(this.time.now())
      if (requestIn(text)?.namespace !== SERVICES[service].namespace)
        throw new Refused('Sender', 'ter:ActionNotSupported', `${name} is not a request of this service`)
      return [200, envelope(this.body(service, name, request))]
    } catch (error) {
      const refused =
        error instanceof Refused ? error : new Refused('Sender', 'ter:WellFormed', (error as Error).message)
      return [
        refused.code === 'Sender' ? 400 : 500,
        faultEnvelope(refused.code, refused.subcode, refused.message),
      ]
    }
  }

  private now(): Date {
    return new Date(this.time.wall() + this.faults.clockOffsetMs)
  }

  private checkLogin({ header }: Message): void {
    const token = child(header, 'Security', 'UsernameToken')
    const [user, digest, nonce, created] = ['Username', 'Password', 'Nonce', 'Created'].map((n) =>
      textOf(token, n),
    )
    if (!token) throw new Refused('Sender', 'ter:NotAuthorized', 'Login needed')
    const expected = createHash('sha1')
      .update(Buffer.from(nonce!, 'base64'))
      .update(created!)
      .update(this.options.password)
      .digest('base64')
    if (user !== this.options.user || digest !== expected) {
      throw new Refused('Sender', 'ter:NotAuthorized', 'Wrong user or password')
    }
    if (Math.abs(Date.parse(created!) - this.now().getTime()) > LOGIN_VALID_MS) {
      throw new Refused('Sender', 'wsse:MessageExpired', 'The time of the login is too far off')
    }
    if (this.usedNonces.has(nonce!))
      throw new Refused('Sender', 'ter:NotAuthorized', 'This login was used before')
    this.usedNonces.add(nonce!)
    if (this.usedNonces.size > 10_000) this.usedNonces.clear()
  }

  private body(service: Service, name: string, request: Node): string {
    const profile = textOf(request, 'ProfileToken')
    if (profile !== '' && profile !== PROFILE)
      throw new Refused('Sender', 'ter:NoProfile', 'There is no such profile')
    const source = textOf(request, 'VideoSourceToken')
    if (source !== '' && source !== VIDEO_SOURCE)
      throw new Refused('Sender', 'ter:NoSource', 'There is no such source')
    const result = this.asked(service, name, request)
    if (result === 'unknown')
      throw new Refused('Receiver', 'ter:ActionNotSupported', `${name} is not supported`)
    if (result === 'invalid') throw new Refused('Sender', 'ter:InvalidArgVal', 'A value is out of its range')
    return result
  }

  private asked(service: Service, name: string, request: Node): string {
    const time = this.faults.clockLies ? new Date(this.time.wall()) : this.now()
    switch (service) {
      case 'device':
        return deviceAnswer(name, this.options, time) ?? 'unknown'
      case 'media':
        return mediaAnswer(name, this.options) ?? 'unknown'
      case 'ptz':
        return this.actions.ptz(name, request)
      case 'imaging':
        return this.actions.imaging(name, request)
    }
  }
}
