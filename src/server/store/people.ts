/** Accounts, invitations and sessions, as they are kept. */
import { and, asc, desc, eq, isNotNull, sql } from 'drizzle-orm'
import * as v from 'valibot'
import { USUAL_CONTROLS } from '../../core/controls/controls'
import { EVERYWHERE, Grant } from '../../core/people/rights'
import type { Database } from './database'
import { invitation, person, session } from './schema'

export interface Account {
  id: string
  name: string
  grant: Grant
  passwordHash: string | null
  invitationId: string | null
  createdAt: Date
}
export interface Invitation {
  id: string
  name: string
  grant: Grant
  hash: string
  sealed: string
  endsAt: Date | null
  uses: number | null
  used: number
  endedAt: Date | null
}
export type SessionRow = typeof session.$inferSelect

/** What can no longer be read gives nothing away. */
const LEAST: Grant = { role: 'viewer', reach: EVERYWHERE, events: {} }
const UNSAID: Grant = { role: 'operator', reach: EVERYWHERE, events: {} }

function grantFrom(kept: unknown): Grant {
  if (kept === null) return UNSAID
  const parsed = v.safeParse(Grant, kept)
  return parsed.success ? parsed.output : LEAST
}

export interface KeptPeople {
  accounts: Account[]
  invitations: Invitation[]
  sessions: SessionRow[]
}

async function readPeople(db: Database): Promise<KeptPeople> {
  const [persons, invitations, sessions] = await Promise.all([
    db.select().from(person).orderBy(asc(person.createdAt)),
    db.select().from(invitation).orderBy(desc(invitation.createdAt)),
    db.select().from(session).orderBy(desc(session.createdAt)),
  ])
  return {
    accounts: persons.map(({ id, name, grant, passwordHash, invitationId, createdAt }) => ({
      ...{ id, name, passwordHash, invitationId, createdAt, grant: grantFrom(grant) },
    })),
    invitations: invitations.map((row) => ({ ...row, grant: grantFrom(row.grant) })),
    sessions,
  }
}

async function addAccount(
  db: Database,
  account: { name: string; grant: Grant; passwordHash: string | null; invitationId: string | null },
): Promise<string> {
  const [row] = await db
    .insert(person)
    .values({ ...account, controls: USUAL_CONTROLS })
    .returning({ id: person.id })
  return row!.id
}

type AccountChange = Partial<{ name: string; grant: Grant; passwordHash: string | null }>

/** An owner who can sign in always remains. @returns 'gone', or 'last' where nobody would be left to let others in */
async function changeAccount(
  db: Database,
  id: string,
  change: AccountChange,
): Promise<'done' | 'gone' | 'last'> {
  return db.transaction(async (tx) => {
    const owners = await ownersOf(tx)
    const leaves = (change.grant && change.grant.role !== 'owner') || change.passwordHash === null
    if (leaves && owners.length === 1 && owners[0] === id) return 'last' as const
    const rows = await tx.update(person).set(change).where(eq(person.id, id)).returning({ id: person.id })
    return rows.length > 0 ? ('done' as const) : ('gone' as const)
  })
}

async function removeAccount(db: Database, id: string): Promise<'done' | 'gone' | 'last'> {
  return db.transaction(async (tx) => {
    const owners = await ownersOf(tx)
    if (owners.length === 1 && owners[0] === id) return 'last' as const
    const rows = await tx.delete(person).where(eq(person.id, id)).returning({ id: person.id })
    return rows.length > 0 ? ('done' as const) : ('gone' as const)
  })
}

async function ownersOf(db: Pick<Database, 'select'>): Promise<string[]> {
  const rows = await db
    .select({ id: person.id })
    .from(person)
    .where(and(isNotNull(person.passwordHash), sql`${person.grant}->>'role' = 'owner'`))
    .for('update')
  return rows.map(({ id }) => id)
}

async function addInvitation(
  db: Database,
  row: Pick<Invitation, 'name' | 'grant' | 'hash' | 'sealed' | 'endsAt' | 'uses'>,
): Promise<string> {
  const [made] = await db.insert(invitation).values(row).returning({ id: invitation.id })
  return made!.id
}

/** Uses it once. @returns false where it is used up by now */
async function takeInvitation(db: Database, id: string): Promise<boolean> {
  const rows = await db
    .update(invitation)
    .set({ used: sql`${invitation.used} + 1` })
    .where(
      and(
        eq(invitation.id, id),
        sql`(${invitation.uses} is null or ${invitation.used} < ${invitation.uses})`,
      ),
    )
    .returning({ id: invitation.id })
  return rows.length > 0
}

/** @returns false if there is none that is not ended already */
async function endInvitation(db: Database, id: string): Promise<boolean> {
  const rows = await db
    .update(invitation)
    .set({ endedAt: new Date() })
    .where(and(eq(invitation.id, id), sql`${invitation.endedAt} is null`))
    .returning({ id: invitation.id })
  return rows.length > 0
}

async function removeInvitation(db: Database, id: string): Promise<boolean> {
  const rows = await db.delete(invitation).where(eq(invitation.id, id)).returning({ id: invitation.id })
  return rows.length > 0
}

async function addSession(
  db: Database,
  row: Pick<SessionRow, 'personId' | 'hash' | 'address' | 'device'>,
): Promise<SessionRow> {
  const [made] = await db.insert(session).values(row).returning()
  return made!
}

async function touchSession(db: Database, id: string, at: Date): Promise<void> {
  await db.update(session).set({ lastSeenAt: at }).where(eq(session.id, id))
}

async function removeSession(db: Database, id: string): Promise<boolean> {
  const rows = await db.delete(session).where(eq(session.id, id)).returning({ id: session.id })
  return rows.length > 0
}

/** All of that, for one database. */
export const peopleStore = (db: Database) => ({
  read: () => readPeople(db),
  addAccount: (account: Parameters<typeof addAccount>[1]) => addAccount(db, account),
  changeAccount: (id: string, change: AccountChange) => changeAccount(db, id, change),
  removeAccount: (id: string) => removeAccount(db, id),
  addInvitation: (row: Parameters<typeof addInvitation>[1]) => addInvitation(db, row),
  takeInvitation: (id: string) => takeInvitation(db, id),
  endInvitation: (id: string) => endInvitation(db, id),
  removeInvitation: (id: string) => removeInvitation(db, id),
  addSession: (row: Parameters<typeof addSession>[1]) => addSession(db, row),
  touchSession: (id: string, at: Date) => touchSession(db, id, at),
  removeSession: (id: string) => removeSession(db, id),
})
export type PeopleStore = ReturnType<typeof peopleStore>
