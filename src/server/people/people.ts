/**
 * Who is here and what they may: accounts, invitations and the browsers that signed in. All of it is in memory, so
 * that a request never waits for the database to know whose it is.
 */
import { hash as hashPassword, verify } from '@node-rs/argon2'
import { MAY_ALL, type May, mayOf, type OpenNow } from '../../core/people/may'
import { type Grant, OWNER } from '../../core/people/rights'
import type { INVITATION_STATES, NewInvitation } from '../../core/people/views'
import type { Account, Invitation, PeopleStore, SessionRow } from '../store/people'
import type { SecretBox } from '../store/secrets'
import { hashOf, newToken } from './tokens'
import { Tries } from './tries'

export const HERE = 'here'

/** Somebody who came through the door. */
export interface Visitor {
  /** Of their browser; HERE: this computer itself, while nobody is set up. */
  readonly session: string
  readonly person: string | null
  name(): string
  grant(): Grant
  may(): May
  endsAt(): Date | null
}

/** Where somebody comes from. */
export interface From {
  address: string
  device: string
}

export interface PeopleDeps {
  store: PeopleStore
  secrets: Pick<SecretBox, 'sealText' | 'openText'>
  /** Others than this computer itself reach the server. */
  reachable: boolean
  /** What is open now; `version` differs when it has changed. */
  open(): OpenNow & { version: unknown }
  nowMs(): number
  log(person: string, what: string, refused: string | null): void
}

export type Entered = { cookie: string } | { why: string; wait?: boolean }

const SESSION_MS = 30 * 86_400_000
const TOUCH_EVERY_MS = 60_000
const WAIT = 'Too many wrong ones. Wait a minute, then try again.'
const WRONG = 'Name and password do not belong together. Look at both once more.'
const NO_LINK = 'This link does not open anything. Ask for a new one.'
/** Against many addresses that guess for one name. */
const TRIES_A_NAME = 60
/** Verified where there is no such person, so that both answers take the same time. */
const NOBODY = hashPassword('nobody has this password')

export class People {
  private accounts = new Map<string, Account>()
  private invitations = new Map<string, Invitation>()
  /** By the hash of their cookie. */
  private sessions = new Map<string, SessionRow>()
  private readonly visitors = new Map<string, Visitor>()
  private readonly heard: ((ended: ReadonlySet<string>) => void)[] = []
  private readonly byAddress = new Tries()
  private readonly byName = new Tries(TRIES_A_NAME)
  /** Makes the first owner, or a new one where the former is forgotten; null: no such link is open. */
  private ownerHash: string | null = null

  private constructor(private readonly deps: PeopleDeps) {}

  static async open(deps: PeopleDeps): Promise<People> {
    const people = new People(deps)
    await people.read()
    return people
  }

  /** Can nobody sign in by a password yet? */
  get nobody(): boolean {
    return ![...this.accounts.values()].some(({ passwordHash }) => passwordHash !== null)
  }

  /** Told which sessions have ended. */
  onEnded(listener: (ended: ReadonlySet<string>) => void): void {
    this.heard.push(listener)
  }

  /** @returns what the link that makes an owner carries, until it is used or the server ends */
  openOwnerLink(): string {
    const token = newToken()
    this.ownerHash = hashOf(token)
    return token
  }

  isOwnerLink(token: string): boolean {
    return this.ownerHash !== null && this.ownerHash === hashOf(token)
  }

  /** Whoever carries this cookie; null: a stranger. */
  visitor(cookie: string | undefined): Visitor | null {
    const row = cookie ? this.sessions.get(hashOf(cookie)) : undefined
    if (!row || !this.isOpen(row)) return !this.deps.reachable && this.nobody ? this.here : null
    this.touch(row)
    return this.visitorOf(row)
  }

  private readonly here: Visitor = {
    session: HERE,
    person: null,
    name: () => 'This computer',
    grant: () => OWNER,
    may: () => MAY_ALL,
    endsAt: () => null,
  }

  async signIn(name: string, password: string, from: From): Promise<Entered> {
    const now = this.deps.nowMs()
    const wanted = name.trim().toLowerCase()
    if (this.byAddress.mustWait(from.address, now) || this.byName.mustWait(wanted, now))
      return { why: WAIT, wait: true }
    // Counted before it is known, so that many at once do not slip through.
    this.byAddress.failed(from.address, now)
    this.byName.failed(wanted, now)
    const account = [...this.accounts.values()].find(
      (one) => one.passwordHash !== null && one.name.toLowerCase() === wanted,
    )
    const fits = await verify(account?.passwordHash ?? (await NOBODY), password).catch(() => false)
    if (!account || !fits) {
      this.deps.log(name.trim().slice(0, 40), 'Signing in', WRONG)
      return { why: WRONG }
    }
    this.byAddress.succeeded(from.address)
    this.byName.succeeded(wanted)
    return this.enter(account.id, account.name, from, 'Signed in')
  }

  /** By an invitation. @param name what whoever comes wants to be called */
  async join(token: string, name: string, from: From): Promise<Entered> {
    const found = this.invited(token, from)
    if ('why' in found) return found
    const { invitation } = found
    if (!(await this.deps.store.takeInvitation(invitation.id))) return { why: NO_LINK }
    const called = name.trim() || invitation.name
    const { grant, id: invitationId } = invitation
    const id = await this.deps.store.addAccount({ name: called, grant, passwordHash: null, invitationId })
    await this.read()
    return this.enter(id, called, from, `Came by the invitation “${invitation.name}”`)
  }

  /** The invitation that a link opens, or why it does not. */
  invited(token: string, from: From): { invitation: Invitation } | { why: string; wait?: boolean } {
    const now = this.deps.nowMs()
    if (this.byAddress.mustWait(from.address, now)) return { why: WAIT, wait: true }
    const hash = hashOf(token)
    const invitation = [...this.invitations.values()].find((one) => one.hash === hash)
    if (!invitation) {
      this.byAddress.failed(from.address, now)
      return { why: NO_LINK }
    }
    const state = this.stateOf(invitation)
    if (state === 'open') return { invitation }
    const why = state === 'used up' ? 'This invitation is used up.' : 'This invitation has ended.'
    return { why: `${why} Ask for a new one.` }
  }

  /** Makes an owner by the link that the start has printed. */
  async makeOwner(token: string, name: string, password: string, from: From): Promise<Entered> {
    const now = this.deps.nowMs()
    if (this.byAddress.mustWait(from.address, now)) return { why: WAIT, wait: true }
    if (!this.isOwnerLink(token)) {
      this.byAddress.failed(from.address, now)
      return { why: NO_LINK }
    }
    const taken = this.taken(name, null)
    if (taken) return { why: taken }
    // Used up at once: two that come together must not both become owners.
    this.ownerHash = null
    const passwordHash = await hashPassword(password)
    const id = await this.deps.store.addAccount({ name, grant: OWNER, passwordHash, invitationId: null })
    await this.read()
    return this.enter(id, name, from, 'Became an owner of this desk')
  }

  /** By a passkey, which has been checked. */
  async enterBy(person: string, from: From): Promise<Entered> {
    const account = this.accounts.get(person)
    if (!account || account.passwordHash === null) return { why: 'This person can no longer sign in here.' }
    return this.enter(account.id, account.name, from, 'Signed in by a passkey')
  }

  /** Counts what may be guesses, by where they come from. */
  readonly guesses = {
    /** @returns why it must wait; null: it may be tried */
    begin: ({ address }: From): string | null => {
      const now = this.deps.nowMs()
      if (this.byAddress.mustWait(address, now)) return WAIT
      this.byAddress.failed(address, now)
      return null
    },
    succeeded: ({ address }: From): void => this.byAddress.succeeded(address),
  }

  async signOut(session: string): Promise<void> {
    await this.endSession(session)
  }

  /** @returns false if there is no such session */
  async endSession(id: string): Promise<boolean> {
    const gone = await this.deps.store.removeSession(id)
    await this.read()
    return gone
  }

  /** @returns why not; null: it is done */
  async addAccount(name: string, password: string, grant: Grant): Promise<string | null> {
    const taken = this.taken(name, null)
    if (taken) return taken
    const passwordHash = await hashPassword(password)
    await this.deps.store.addAccount({ name, grant, passwordHash, invitationId: null })
    await this.read()
    return null
  }

  /** A new password ends all that was signed in by the former. */
  async changeAccount(
    id: string,
    {
      name,
      password,
      grant,
    }: { name?: string | undefined; password?: string | null; grant?: Grant | undefined },
  ): Promise<'done' | 'gone' | 'last' | { taken: string }> {
    const taken = name === undefined ? null : this.taken(name, id)
    if (taken) return { taken }
    const change = {
      ...(name === undefined ? {} : { name }),
      ...(grant === undefined ? {} : { grant }),
      ...(password === undefined
        ? {}
        : { passwordHash: password === null ? null : await hashPassword(password) }),
    }
    const done = await this.deps.store.changeAccount(id, change)
    if (done === 'done' && password !== undefined)
      for (const row of this.sessions.values())
        if (row.personId === id) await this.deps.store.removeSession(row.id)
    await this.read()
    return done
  }

  async removeAccount(id: string): Promise<'done' | 'gone' | 'last'> {
    const done = await this.deps.store.removeAccount(id)
    await this.read()
    return done
  }

  async invite({ name, grant, endsAt, uses }: NewInvitation): Promise<string> {
    const token = newToken()
    const id = await this.deps.store.addInvitation({
      ...{ name, grant, uses, hash: hashOf(token), sealed: this.deps.secrets.sealText(token) },
      endsAt: endsAt === null ? null : new Date(endsAt),
    })
    await this.read()
    return id
  }

  /** Whoever came by it is out. */
  async endInvitation(id: string): Promise<boolean> {
    const done = await this.deps.store.endInvitation(id)
    await this.read()
    return done
  }

  async removeInvitation(id: string): Promise<boolean> {
    const done = await this.deps.store.removeInvitation(id)
    await this.read()
    return done
  }

  get all(): { accounts: Account[]; invitations: Invitation[]; sessions: SessionRow[] } {
    return {
      accounts: [...this.accounts.values()],
      invitations: [...this.invitations.values()],
      sessions: [...this.sessions.values()].filter((row) => this.isOpen(row)),
    }
  }

  accountOf(id: string): Account | null {
    return this.accounts.get(id) ?? null
  }

  stateOf({ endedAt, endsAt, uses, used }: Invitation): (typeof INVITATION_STATES)[number] {
    if (endedAt) return 'ended'
    if (endsAt && endsAt.getTime() <= this.deps.nowMs()) return 'over'
    return uses !== null && used >= uses ? 'used up' : 'open'
  }

  /** The path of its link; '' where the key that sealed it was lost. */
  pathOf({ sealed }: Invitation): string {
    const token = this.deps.secrets.openText(sealed)
    return token === null ? '' : `/join/${token}`
  }

  /** Ends what is over by now; asked every second or so. */
  sweep(): void {
    const over = [...this.visitors.keys()].filter((id) => {
      const row = [...this.sessions.values()].find((one) => one.id === id)
      return !row || !this.isOpen(row)
    })
    this.tellEnded(over)
  }

  private tellEnded(ids: readonly string[]): void {
    if (ids.length === 0) return
    for (const id of ids) this.visitors.delete(id)
    for (const listener of this.heard) listener(new Set(ids))
  }

  private taken(name: string, but: string | null): string | null {
    const same = [...this.accounts.values()].some(
      (one) => one.id !== but && one.passwordHash !== null && one.name.toLowerCase() === name.toLowerCase(),
    )
    return same ? `There is a “${name}” already. Choose another name.` : null
  }

  private async enter(personId: string, name: string, from: From, what: string): Promise<Entered> {
    const cookie = newToken()
    await this.deps.store.addSession({
      ...{ personId, hash: hashOf(cookie), address: from.address, device: from.device.slice(0, 200) },
    })
    await this.read()
    this.deps.log(name, what, null)
    return { cookie }
  }

  private isOpen(row: SessionRow): boolean {
    const account = this.accounts.get(row.personId)
    if (!account || row.lastSeenAt.getTime() + SESSION_MS < this.deps.nowMs()) return false
    if (account.invitationId === null) return account.passwordHash !== null
    const invitation = this.invitations.get(account.invitationId)
    if (!invitation) return false
    const state = this.stateOf(invitation)
    return state === 'open' || state === 'used up'
  }

  private visitorOf(row: SessionRow): Visitor {
    const known = this.visitors.get(row.id)
    if (known) return known
    const { deps } = this
    const account = () => this.accounts.get(row.personId) ?? null
    const invitation = () => this.invitations.get(account()?.invitationId ?? '') ?? null
    const NONE: Grant = {
      ...OWNER,
      role: 'viewer',
      reach: { ...OWNER.reach, cameras: [], rights: { see: false } },
    }
    const grant = () => invitation()?.grant ?? account()?.grant ?? NONE
    let last: { grant: Grant; version: unknown; may: May } | null = null
    const visitor: Visitor = {
      session: row.id,
      person: row.personId,
      name: () => account()?.name ?? 'Somebody who is gone',
      grant,
      may() {
        const now = grant()
        const open = deps.open()
        if (last?.grant !== now || last.version !== open.version)
          last = { grant: now, version: open.version, may: mayOf(now, open) }
        return last.may
      },
      endsAt: () => invitation()?.endsAt ?? null,
    }
    this.visitors.set(row.id, visitor)
    return visitor
  }

  private touch(row: SessionRow): void {
    const now = this.deps.nowMs()
    if (now - row.lastSeenAt.getTime() < TOUCH_EVERY_MS) return
    row.lastSeenAt = new Date(now)
    void this.deps.store.touchSession(row.id, row.lastSeenAt).catch(() => {})
  }

  private async read(): Promise<void> {
    const { accounts, invitations, sessions } = await this.deps.store.read()
    const alone = this.nobody
    this.accounts = new Map(accounts.map((one) => [one.id, one]))
    this.invitations = new Map(invitations.map((one) => [one.id, one]))
    this.sessions = new Map(sessions.map((one) => [one.hash, one]))
    this.sweep()
    if (alone && !this.nobody && !this.deps.reachable) this.tellEnded([HERE])
  }
}
