/** Who asks and what they may; accounts, invitations, and the browsers that are signed in. */
import { type Context, Hono } from 'hono'
import * as v from 'valibot'
import { Grant, reachOf } from '../../core/people/rights'
import { Me, NewInvitation, PasskeyView, Password, PeopleView, PersonName } from '../../core/people/views'
import { forget, fromOf, keepIn, originOf, visitorOf } from '../people/door'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const GONE = 'This person no longer exists.'
const LAST = 'This is the last owner who can sign in. Make another one first.'
const FIRST_OWNER = 'The first person who can sign in must be an owner.'
const done = { ok: true as const }

const NO_PASSWORD = 'Passkeys are for people who sign in by name and password.'
const MadePasskey = v.object({
  name: v.pipe(v.string(), v.trim(), v.maxLength(80)),
  response: v.looseObject({
    id: v.string(),
    rawId: v.string(),
    type: v.literal('public-key'),
    response: v.looseObject({ clientDataJSON: v.string(), attestationObject: v.string() }),
    clientExtensionResults: v.looseObject({}),
  }),
})

export function meRoutes({ people, passkeys, catalogue }: Deps) {
  /** Whoever asks, where they have a password. */
  const own = (c: Context): string | null => {
    const account = people().accountOf(visitorOf(c)?.person ?? '')
    return account && account.passwordHash !== null ? account.id : null
  }
  return new Hono()
    .get('/', documented('Who asks, and what they may in the open event', Me), (c) => {
      const visitor = visitorOf(c)
      const grant = visitor?.grant()
      const event = catalogue.current?.view.event.id ?? null
      const may = visitor?.may()
      return c.json<v.InferOutput<typeof Me>>({
        person: visitor?.person ?? null,
        name: visitor?.name() ?? '',
        role: grant?.role ?? 'viewer',
        rights: [...(may?.rights ?? [])],
        reach: grant
          ? reachOf(grant, event)
          : { cameras: [], sections: [], cues: [], desk: null, rights: {} },
        signedIn: visitor?.person !== null,
        endsAt: visitor?.endsAt()?.toISOString() ?? null,
      })
    })
    .delete('/', documented('Sign out', Done), async (c) => {
      const visitor = visitorOf(c)
      if (visitor?.person) await people().signOut(visitor.session)
      forget(c)
      return c.json(done, 200)
    })
    .get('/passkeys', documented('The passkeys of whoever asks', v.array(PasskeyView)), async (c) => {
      const person = own(c)
      const kept = person ? await passkeys().of(person) : []
      return c.json<PasskeyView[]>(
        kept.map(({ id, name, createdAt, lastUsedAt }) => ({
          ...{ id, name, createdAt: createdAt.toISOString() },
          lastUsedAt: lastUsedAt?.toISOString() ?? null,
        })),
      )
    })
    .post(
      '/passkeys/options',
      documented('What a browser needs to make a passkey', v.looseObject({}), { 409: NO_PASSWORD }),
      async (c) => {
        const person = own(c)
        if (!person) return c.json<Problem, 409>({ error: NO_PASSWORD }, 409)
        return c.json(await passkeys().beginAdding(person, originOf(c)), 200)
      },
    )
    .post(
      '/passkeys',
      documented('Keep a passkey that a browser has made', Done, { 409: NO_PASSWORD }),
      given('json', MadePasskey),
      async (c) => {
        const person = own(c)
        if (!person) return c.json<Problem, 409>({ error: NO_PASSWORD }, 409)
        const { name, response } = c.req.valid('json')
        const problem = await passkeys().add(person, name, response as never, originOf(c))
        return problem ? c.json<Problem, 409>({ error: problem }, 409) : c.json(done, 200)
      },
    )
    .delete(
      '/passkeys/:id',
      documented('Remove a passkey', Done, { 404: 'There is no such passkey.' }),
      given('param', Id),
      async (c) => {
        const person = own(c)
        const gone = person && (await passkeys().remove(person, c.req.valid('param').id))
        return gone ? c.json(done, 200) : c.json<Problem, 404>({ error: 'There is no such passkey.' }, 404)
      },
    )
}

export function peopleRoutes({ people, addresses }: Deps) {
  return new Hono()
    .get('/', documented('Everybody who may come in, and who is in', PeopleView), (c) => {
      const { accounts, invitations, sessions } = people().all
      const own = visitorOf(c)?.session
      return c.json<v.InferOutput<typeof PeopleView>>({
        accounts: accounts.map(({ id, name, grant, passwordHash, invitationId }) => ({
          ...{ id, name, grant, hasPassword: passwordHash !== null, invitation: invitationId },
        })),
        invitations: invitations.map((one) => ({
          ...{ id: one.id, name: one.name, grant: one.grant, uses: one.uses, used: one.used },
          endsAt: one.endsAt?.toISOString() ?? null,
          state: people().stateOf(one),
          path: people().pathOf(one),
          by: accounts
            .filter(({ invitationId }) => invitationId === one.id)
            .map(({ name, createdAt }) => ({ name, at: createdAt.toISOString() })),
        })),
        sessions: sessions.map(({ id, personId, address, device, createdAt, lastSeenAt }) => ({
          ...{ id, address, device, own: id === own },
          name: people().accountOf(personId)?.name ?? '',
          since: createdAt.toISOString(),
          lastSeenAt: lastSeenAt.toISOString(),
        })),
        addresses: addresses(),
      })
    })
    .post(
      '/accounts',
      documented('Add somebody who signs in by name and password', Done, { 409: 'The name is taken' }),
      given('json', v.object({ name: PersonName, password: Password, grant: Grant })),
      async (c) => {
        const { name, password, grant } = c.req.valid('json')
        const first = people().nobody
        if (first && grant.role !== 'owner') return c.json<Problem, 409>({ error: FIRST_OWNER }, 409)
        const problem = await people().addAccount(name, password, grant)
        if (problem) return c.json<Problem, 409>({ error: problem }, 409)
        // From now on everybody signs in: whoever made the first owner is that owner.
        const entered = first ? await people().signIn(name, password, fromOf(c)) : null
        if (entered && 'cookie' in entered) keepIn(c, entered.cookie)
        return c.json(done, 200)
      },
    )
    .patch(
      '/accounts/:id',
      documented('Change a name, a password or what somebody may', Done, { 404: GONE, 409: LAST }),
      given('param', Id),
      given(
        'json',
        v.object({
          name: v.optional(PersonName),
          /** Null: can no longer sign in. */
          password: v.optional(v.nullable(Password)),
          grant: v.optional(Grant),
        }),
        { change: true },
      ),
      async (c) => {
        const { name, password, grant } = c.req.valid('json')
        const change = { name, grant, ...(password === undefined ? {} : { password }) }
        const result = await people().changeAccount(c.req.valid('param').id, change)
        if (result === 'gone') return c.json<Problem, 404>({ error: GONE }, 404)
        if (result !== 'done')
          return c.json<Problem, 409>({ error: result === 'last' ? LAST : result.taken }, 409)
        return c.json(done, 200)
      },
    )
    .delete(
      '/accounts/:id',
      documented('Remove somebody, and end what they are signed in at', Done, { 404: GONE, 409: LAST }),
      given('param', Id),
      async (c) => {
        const result = await people().removeAccount(c.req.valid('param').id)
        if (result === 'gone') return c.json<Problem, 404>({ error: GONE }, 404)
        return result === 'last' ? c.json<Problem, 409>({ error: LAST }, 409) : c.json(done, 200)
      },
    )
    .post(
      '/invitations',
      documented('Make an invitation', v.object({ id: v.string() }), {
        409: 'Nobody is set up who could end it',
      }),
      given('json', NewInvitation),
      async (c) => {
        if (people().nobody)
          return c.json<Problem, 409>(
            { error: 'Set up an owner first: then this desk asks everybody who they are.' },
            409,
          )
        return c.json({ id: await people().invite(c.req.valid('json')) }, 200)
      },
    )
    .post(
      '/invitations/:id/end',
      documented('End an invitation: whoever came by it is out at once', Done, { 404: 'It is over already' }),
      given('param', Id),
      async (c) =>
        (await people().endInvitation(c.req.valid('param').id))
          ? c.json(done, 200)
          : c.json<Problem, 404>({ error: 'This invitation has ended already.' }, 404),
    )
    .delete(
      '/invitations/:id',
      documented('Remove an invitation from the list', Done, { 404: 'There is no such invitation' }),
      given('param', Id),
      async (c) =>
        (await people().removeInvitation(c.req.valid('param').id))
          ? c.json(done, 200)
          : c.json<Problem, 404>({ error: 'There is no such invitation.' }, 404),
    )
    .delete(
      '/sessions/:id',
      documented('Sign a browser out at once', Done, { 404: 'It is signed out already' }),
      given('param', Id),
      async (c) =>
        (await people().endSession(c.req.valid('param').id))
          ? c.json(done, 200)
          : c.json<Problem, 404>({ error: 'It is signed out already.' }, 404),
    )
}
