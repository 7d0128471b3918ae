/** Who gets in, and for how long: owners, passwords, invitations, sessions. */
import { EVERYWHERE, type Grant } from '../../core/people/rights'
import { FROM, memoryPeople } from './testing/memoryPeople'

const HELPER: Grant = { role: 'helper', reach: EVERYWHERE, events: {} }
const INVITED = { name: 'For tonight', grant: HELPER, endsAt: null, uses: null }
const tokenOf = (path: string) => path.replace('/join/', '')

test('on this computer alone nobody is asked until somebody is set up; then everybody is', async () => {
  const { people, ended } = await memoryPeople({ reachable: false })
  expect(people.visitor(undefined)?.may().everywhere).toBe(true)
  expect(await people.addAccount('Wren', 'long enough', { ...HELPER, role: 'owner' })).toBeNull()
  expect([people.visitor(undefined), ended]).toEqual([null, ['here']])
})

test('where others reach it, nobody is let in without being known', async () => {
  const { people, owner } = await memoryPeople()
  expect(people.visitor(undefined)).toBeNull()
  const cookie = await owner()
  expect(people.visitor(cookie)?.name()).toBe('Wren')
  expect([people.visitor('guess'), people.visitor('')]).toEqual([null, null])
})

test('the link of the first owner opens once, even for two that come together', async () => {
  const { people } = await memoryPeople()
  const token = people.openOwnerLink()
  expect(await people.makeOwner('guess', 'A', 'long enough', FROM)).toMatchObject({ why: expect.any(String) })
  const both = await Promise.all(
    ['Wren', 'Robin'].map((name) => people.makeOwner(token, name, 'long enough', FROM)),
  )
  expect(both.filter((one) => 'cookie' in one)).toHaveLength(1)
  expect(people.isOwnerLink(token)).toBe(false)
})

test('a name and a password let in, whatever the case of the name; the hash is argon2id', async () => {
  const { people, owner, logged } = await memoryPeople()
  await owner()
  expect(await people.signIn('wren', 'long enough', FROM)).toMatchObject({ cookie: expect.any(String) })
  expect(await people.signIn('Wren', 'long enouhg', FROM)).toMatchObject({
    why: expect.stringMatching(/do not belong/),
  })
  expect(await people.signIn('Nobody', 'long enough', FROM)).toMatchObject({ why: expect.any(String) })
  expect(people.all.accounts[0]!.passwordHash).toMatch(/^\$argon2id\$/)
  expect(logged).toContain('Wren: Signing in, refused')
})

test('guessing is slowed down: for the address that guesses, and for a name that many guess for', async () => {
  const { people, owner, clock } = await memoryPeople()
  await owner()
  for (let i = 0; i < 10; i++) await people.signIn('Wren', `guess ${i}`, FROM)
  expect(await people.signIn('Wren', 'long enough', FROM)).toMatchObject({ wait: true })
  const other = { ...FROM, address: '10.0.0.8' }
  expect(await people.signIn('Wren', 'long enough', other)).toMatchObject({ cookie: expect.any(String) })
  clock.ms += 61_000
  expect(await people.signIn('Wren', 'long enough', FROM)).toMatchObject({ cookie: expect.any(String) })
  // Together, so that none is counted only after the others were heard.
  const many = await Promise.all(
    Array.from({ length: 100 }, (_, i) =>
      people.signIn('Wren', 'guess', { ...FROM, address: `10.1.0.${i}` }),
    ),
  )
  expect(many.filter((one) => 'wait' in one && one.wait).length).toBeGreaterThanOrEqual(40)
  for (let i = 0; i < 10; i++) people.invited('guess', { ...FROM, address: '10.0.0.9' })
  expect(people.invited('guess', { ...FROM, address: '10.0.0.9' })).toMatchObject({ wait: true })
})

test('an invitation lets in as often as it says, until it ends, and ends what came by it', async () => {
  const { people, owner, clock, ended } = await memoryPeople()
  await owner()
  const endsAt = new Date(clock.ms + 3_600_000).toISOString()
  const id = await people.invite({ ...INVITED, uses: 2, endsAt })
  const path = () => people.pathOf(people.all.invitations[0]!)
  const come = (name: string) => people.join(tokenOf(path()), name, FROM)
  const [robin, heron, third] = [await come('Robin'), await come('Heron'), await come('Third')]
  expect(third).toMatchObject({ why: expect.stringMatching(/used up/) })
  const cookies = [robin, heron].map((one) => ('cookie' in one ? one.cookie : ''))
  expect(cookies.map((cookie) => people.visitor(cookie)?.name())).toEqual(['Robin', 'Heron'])
  expect(people.stateOf(people.all.invitations[0]!)).toBe('used up')
  // By hand, at once.
  const sessions = cookies.map((cookie) => people.visitor(cookie)!.session)
  await people.endInvitation(id)
  expect([...ended].sort()).toEqual([...sessions].sort())
  expect(cookies.map((cookie) => people.visitor(cookie))).toEqual([null, null])
})

test('an invitation ends by the clock, for those inside too', async () => {
  const { people, owner, clock, ended, again } = await memoryPeople()
  await owner()
  const endsAt = new Date(clock.ms + 3_600_000).toISOString()
  await people.invite({ ...INVITED, endsAt })
  const token = tokenOf(people.pathOf(people.all.invitations[0]!))
  const came = await people.join(token, 'Robin', FROM)
  const cookie = 'cookie' in came ? came.cookie : ''
  clock.ms += 3_599_000
  people.sweep()
  expect(people.visitor(cookie)?.name()).toBe('Robin')
  // The server may be started anew in between.
  expect((await again()).visitor(cookie)?.name()).toBe('Robin')
  clock.ms += 1000
  people.sweep()
  expect(ended).toHaveLength(1)
  expect(people.visitor(cookie)).toBeNull()
  expect(await people.join(token, 'Late', FROM)).toMatchObject({ why: expect.stringMatching(/has ended/) })
})

test('signing out, a new password and removal end what was signed in; the last owner stays', async () => {
  const { people, owner } = await memoryPeople()
  const cookie = await owner()
  const { session, person } = people.visitor(cookie)!
  expect(await people.removeAccount(person!)).toBe('last')
  expect(await people.changeAccount(person!, { grant: HELPER })).toBe('last')
  expect(await people.changeAccount(person!, { password: null })).toBe('last')
  await people.signOut(session)
  expect(people.visitor(cookie)).toBeNull()
  await people.addAccount('Robin', 'also long enough', HELPER)
  expect(await people.addAccount('ROBIN', 'also long enough', HELPER)).toMatch(/already/)
  const robin = people.all.accounts.find(({ name }) => name === 'Robin')!
  const came = await people.signIn('Robin', 'also long enough', FROM)
  const robins = 'cookie' in came ? came.cookie : ''
  expect(people.visitor(robins)?.may().rights.has('store')).toBe(false)
  await people.changeAccount(robin.id, { grant: { ...HELPER, role: 'operator' } })
  expect(people.visitor(robins)?.may().rights.has('store')).toBe(true)
  await people.changeAccount(robin.id, { password: 'another long one' })
  expect(people.visitor(robins)).toBeNull()
  expect(await people.removeAccount(robin.id)).toBe('done')
})
