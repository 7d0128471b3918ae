/** Passkeys: signing in with a device's own lock instead of a password. Browsers have them over a secure connection alone. */
import {
  type AuthenticationResponseJSON,
  generateAuthenticationOptions,
  generateRegistrationOptions,
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
  type RegistrationResponseJSON,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
} from '@simplewebauthn/server'
import { parsedUrl } from '../../core/safely'
import type { KeptPasskey, PasskeyStore } from '../store/passkeys'
import type { Entered, From, People } from './people'

/** As the browser sees it, `https://desk.example`; checked at the door. */
export type Origin = string

const WITHIN_MS = 5 * 60_000
const MOST_OPEN = 1000
const MOST_A_PERSON = 20
const NAME = 'Steady Heron'
const LATE = 'That took too long. Try again.'
const UNKNOWN = 'This passkey does not belong to this desk, or was removed. Sign in by name and password.'
const MANY = `Somebody has at most ${MOST_A_PERSON} passkeys. Remove one first.`

/** '' for what is no address: no passkey fits it. */
const nameOf = (origin: Origin) => parsedUrl(origin)?.hostname ?? ''

/** Challenges that were given out and not yet answered: each is good once, for a few minutes. */
class Challenges {
  private readonly open = new Map<string, { until: number; person: string | null }>()
  constructor(private readonly nowMs: () => number) {}

  add(challenge: string, person: string | null): void {
    // The oldest make room: whoever asks without end must not fill the memory.
    if (this.open.size >= MOST_OPEN) this.open.delete(this.open.keys().next().value!)
    this.open.set(challenge, { until: this.nowMs() + WITHIN_MS, person })
  }

  take(challenge: string, person: string | null): boolean {
    const found = this.open.get(challenge)
    if (!found || found.person !== person) return false
    this.open.delete(challenge)
    return found.until >= this.nowMs()
  }
}

export class Passkeys {
  private readonly challenges: Challenges

  constructor(
    private readonly people: Pick<People, 'accountOf' | 'enterBy' | 'guesses'>,
    private readonly store: PasskeyStore,
    nowMs: () => number,
  ) {
    this.challenges = new Challenges(nowMs)
  }

  of(person: string): Promise<KeptPasskey[]> {
    return this.store.of(person)
  }

  remove(person: string, id: string): Promise<boolean> {
    return this.store.remove(person, id)
  }

  /** What the browser needs to make one. */
  async beginAdding(person: string, origin: Origin): Promise<PublicKeyCredentialCreationOptionsJSON> {
    const known = await this.store.of(person)
    const options = await generateRegistrationOptions({
      rpName: NAME,
      rpID: nameOf(origin),
      userName: this.people.accountOf(person)?.name ?? '',
      userID: new TextEncoder().encode(person),
      attestationType: 'none',
      excludeCredentials: known.map(({ credential }) => ({ id: credential })),
      authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
    })
    this.challenges.add(options.challenge, person)
    return options
  }

  /** @returns why not; null: it can be used from now on */
  async add(
    person: string,
    name: string,
    response: RegistrationResponseJSON,
    origin: Origin,
  ): Promise<string | null> {
    if ((await this.store.of(person)).length >= MOST_A_PERSON) return MANY
    let late = false
    const verified = await verifyRegistrationResponse({
      response,
      expectedChallenge: (challenge) => {
        late = !this.challenges.take(challenge, person)
        return !late
      },
      expectedOrigin: origin,
      expectedRPID: nameOf(origin),
    }).catch(() => null)
    if (!verified?.verified) return late ? LATE : 'This passkey could not be checked. Try again.'
    const { id, publicKey, counter } = verified.registrationInfo.credential
    const key = Buffer.from(publicKey).toString('base64url')
    const kept = await this.store.add({ personId: person, name, credential: id, publicKey: key, counter })
    return kept ? null : 'This passkey is known here already.'
  }

  async beginEntering(origin: Origin): Promise<PublicKeyCredentialRequestOptionsJSON> {
    const options = await generateAuthenticationOptions({
      rpID: nameOf(origin),
      userVerification: 'required',
    })
    this.challenges.add(options.challenge, null)
    return options
  }

  async enter(response: AuthenticationResponseJSON, origin: Origin, from: From): Promise<Entered> {
    const wait = this.people.guesses.begin(from)
    if (wait) return { why: wait, wait: true }
    const kept = await this.store.byCredential(response.id)
    if (!kept) return { why: UNKNOWN }
    let late = false
    const verified = await verifyAuthenticationResponse({
      response,
      expectedChallenge: (challenge) => {
        late = !this.challenges.take(challenge, null)
        return !late
      },
      expectedOrigin: origin,
      expectedRPID: nameOf(origin),
      credential: {
        id: kept.credential,
        publicKey: new Uint8Array(Buffer.from(kept.publicKey, 'base64url')),
        counter: kept.counter,
      },
    }).catch(() => null)
    if (!verified?.verified) return { why: late ? LATE : UNKNOWN }
    this.people.guesses.succeeded(from)
    await this.store.used(kept.id, verified.authenticationInfo.newCounter)
    return this.people.enterBy(kept.personId, from)
  }
}
