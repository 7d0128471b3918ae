/** People that are kept in memory, and one world of cameras and presets for them to reach. */
import { randomUUID } from 'node:crypto'
import type { OpenNow } from '../../../core/people/may'
import type { KeptPasskey, PasskeyStore } from '../../store/passkeys'
import type { Account, Invitation, PeopleStore, SessionRow } from '../../store/people'
import { People, type PeopleDeps } from '../people'

export function memoryStore(nowMs: () => number): PeopleStore {
  let accounts: Account[] = []
  let invitations: Invitation[] = []
  let sessions: SessionRow[] = []
  const owners = () => accounts.filter((one) => one.passwordHash !== null && one.grant.role === 'owner')
  const isLast = (id: string) => owners().length === 1 && owners()[0]!.id === id
  const drop = () => {
    accounts = accounts.filter(
      ({ invitationId }) => invitationId === null || invitations.some(({ id }) => id === invitationId),
    )
    sessions = sessions.filter(({ personId }) => accounts.some(({ id }) => id === personId))
  }
  return {
    read: async () => structuredClone({ accounts, invitations, sessions }),
    async addAccount(account) {
      const id = randomUUID()
      accounts.push({ id, createdAt: new Date(nowMs()), ...account })
      return id
    },
    async changeAccount(id, change) {
      const found = accounts.find((one) => one.id === id)
      if (!found) return 'gone'
      const leaves = (change.grant && change.grant.role !== 'owner') || change.passwordHash === null
      if (leaves && isLast(id)) return 'last'
      Object.assign(found, change)
      return 'done'
    },
    async removeAccount(id) {
      if (isLast(id)) return 'last'
      const before = accounts.length
      accounts = accounts.filter((one) => one.id !== id)
      drop()
      return accounts.length < before ? 'done' : 'gone'
    },
    async addInvitation(row) {
      const id = randomUUID()
      invitations.push({ id, used: 0, endedAt: null, ...row })
      return id
    },
    async takeInvitation(id) {
      const found = invitations.find((one) => one.id === id)
      if (!found || (found.uses !== null && found.used >= found.uses)) return false
      found.used += 1
      return true
    },
    async endInvitation(id) {
      const found = invitations.find((one) => one.id === id && one.endedAt === null)
      if (found) found.endedAt = new Date(nowMs())
      return found !== undefined
    },
    async removeInvitation(id) {
      const before = invitations.length
      invitations = invitations.filter((one) => one.id !== id)
      drop()
      return invitations.length < before
    },
    async addSession(row) {
      const at = new Date(nowMs())
      const made = { id: randomUUID(), createdAt: at, lastSeenAt: at, ...row }
      sessions.push(made)
      return made
    },
    async touchSession(id, at) {
      for (const one of sessions) if (one.id === id) one.lastSeenAt = at
    },
    async removeSession(id) {
      const before = sessions.length
      sessions = sessions.filter((one) => one.id !== id)
      return sessions.length < before
    },
  }
}

export function memoryPasskeys(): PasskeyStore {
  const kept: KeptPasskey[] = []
  return {
    of: async (person) => kept.filter(({ personId }) => personId === person),
    byCredential: async (credential) => kept.find((one) => one.credential === credential) ?? null,
    async add(row) {
      if (kept.some(({ credential }) => credential === row.credential)) return false
      kept.push({ id: randomUUID(), createdAt: new Date(), lastUsedAt: null, ...row })
      return true
    },
    async used(id, counter) {
      for (const one of kept) if (one.id === id) one.counter = counter
    },
    async remove(person, id) {
      const at = kept.findIndex((one) => one.id === id && one.personId === person)
      if (at >= 0) kept.splice(at, 1)
      return at >= 0
    },
  }
}

export const FROM = { address: '10.0.0.7', device: 'a phone' }
export const NOTHING_OPEN: OpenNow = { event: null, desk: () => null, cameraOf: () => null }

export async function memoryPeople({
  reachable = true,
  open = NOTHING_OPEN,
}: {
  reachable?: boolean
  open?: OpenNow
} = {}) {
  const clock = { ms: Date.parse('2026-11-28T18:00:00Z') }
  const ended: string[] = []
  const logged: string[] = []
  const deps: PeopleDeps = {
    store: memoryStore(() => clock.ms),
    secrets: { sealText: (text) => `sealed ${text}`, openText: (text) => text.replace('sealed ', '') },
    ...{ reachable, open: () => ({ ...open, version: open }), nowMs: () => clock.ms },
    log: (person, what, refused) => logged.push(`${person}: ${what}${refused ? ', refused' : ''}`),
  }
  const people = await People.open(deps)
  people.onEnded((sessions) => ended.push(...sessions))
  /** The first owner, signed in. */
  const owner = async () => {
    const made = await people.makeOwner(people.openOwnerLink(), 'Wren', 'long enough', FROM)
    return 'cookie' in made ? made.cookie : ''
  }
  return { people, clock, ended, logged, owner, again: () => People.open(deps) }
}
