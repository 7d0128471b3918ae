/** For programs and button boxes: one address for each thing that can be asked for; keys; OSC. */
import { type Context, Hono } from 'hono'
import * as v from 'valibot'
import { ADDRESSES } from '../../core/remote/addresses'
import { KeyView, NewKey, NO_OSC, OscSettings } from '../../core/remote/settings'
import { keepOsc } from '../store/venues'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const Values = v.object({
  values: v.optional(
    v.pipe(v.array(v.union([v.string(), v.number(), v.boolean(), v.null()])), v.maxLength(10)),
    [],
  ),
})
const RemoteSettings = v.object({
  osc: OscSettings,
  /** Why OSC is not heard, or not sent; null if all is well. */
  trouble: v.nullable(v.string()),
  keys: v.array(KeyView),
  addresses: v.array(v.object({ path: v.string(), right: v.string(), takes: v.string(), does: v.string() })),
})
export type RemoteSettings = v.InferOutput<typeof RemoteSettings>

/** The key that a request carries; '' for none. */
export const keyIn = (c: Context): string =>
  /^Bearer (\S{10,200})$/.exec(c.req.header('authorization') ?? '')?.[1] ?? ''
const NO_KEY = 'This needs a key: make one in Setup, Remote, and send it as “Authorization: Bearer ...”.'
const PREFIX = '/api/remote/'

/** Opened by a key alone, whatever the door asks of others. */
export function remoteDoor({ remote, keys }: Pick<Deps, 'remote' | 'keys'>) {
  return new Hono().post(
    '/:path{.+}',
    documented('Ask for one thing by its address, as /go or /camera/2/recall', Done, {
      401: NO_KEY,
      409: 'It was not done',
    }),
    given('json', Values),
    async (c) => {
      const holder = keys().holderOf(keyIn(c), Date.now())
      if (!holder) return c.json<Problem, 401>({ error: NO_KEY }, 401)
      const path = c.req.path.slice(c.req.path.indexOf(PREFIX) + PREFIX.length)
      const problem = await remote().ask(decoded(path), c.req.valid('json').values, holder, holder.rights)
      return problem ? c.json<Problem, 409>({ error: problem }, 409) : c.json({ ok: true as const }, 200)
    },
  )
}

function decoded(path: string): string {
  try {
    return decodeURIComponent(path)
  } catch {
    return path
  }
}

export function remoteRoutes({ db, catalogue, keys, osc, changed }: Deps) {
  return new Hono()
    .get('/', documented('Keys, OSC and the addresses that can be asked for', RemoteSettings), (c) => {
      const addresses = ADDRESSES.map(({ path, right, takes, does }) => ({ path, right, takes, does }))
      const settings = catalogue.current?.osc ?? NO_OSC
      return c.json({ osc: settings, trouble: osc().trouble, keys: keys().all, addresses }, 200)
    })
    .put(
      '/osc',
      documented('How OSC is heard and sent', Done, { 409: 'No venue is open' }),
      given('json', OscSettings),
      async (c) => {
        const venue = catalogue.current?.view.venue.id
        if (!venue) return c.json<Problem, 409>({ error: 'No venue is open.' }, 409)
        await keepOsc(db, venue, c.req.valid('json'))
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/keys',
      documented('Make a key; it is shown this once', v.object({ key: v.string() })),
      given('json', NewKey),
      async (c) => c.json({ key: await keys().add(c.req.valid('json')) }, 200),
    )
    .delete(
      '/keys/:id',
      documented('End a key at once', Done, { 404: 'There is no such key' }),
      given('param', Id),
      async (c) =>
        (await keys().remove(c.req.valid('param').id))
          ? c.json({ ok: true as const }, 200)
          : c.json<Problem, 404>({ error: 'There is no such key.' }, 404),
    )
}
