/** Other devices: kept with their messages, told things, and tried. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { Device, DeviceMessage, DeviceState, DeviceView } from '../../core/messages/device'
import { deleteDevice, putDevice } from '../store/devices'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const Secret = v.pipe(v.string(), v.maxLength(400))
const GONE = { error: 'This device no longer exists.' }

export function deviceRoutes({ db, secrets, catalogue, cues, changed }: Deps) {
  const venue = () => catalogue.current?.view.venue.id ?? null
  return new Hono()
    .get('/', documented('Other devices of the open venue', v.array(DeviceView)), (c) =>
      c.json(catalogue.current?.view.devices ?? [], 200),
    )
    .post(
      '/try',
      documented('Send a message once, as it is edited, and see the answer', DeviceState),
      given(
        'json',
        v.object({
          message: DeviceMessage,
          local: v.boolean(),
          /** Null: the one that is kept with the device. */
          secret: v.optional(v.nullable(Secret), null),
          device: v.optional(v.nullable(v.pipe(v.string(), v.uuid())), null),
        }),
      ),
      async (c) => {
        const { message, local, secret, device } = c.req.valid('json')
        const kept = catalogue.current?.devices.find(({ view }) => view.id === device)?.secret ?? ''
        return c.json(await cues().devices.tryOut(message, local, secret ?? kept, cues().values()), 200)
      },
    )
    .put(
      '/:id',
      documented('Keep a device, new or changed', Done, { 409: 'No venue is open' }),
      given('param', Id),
      given('json', v.object({ data: Device, secret: v.optional(v.nullable(Secret), null) })),
      async (c) => {
        const { data, secret } = c.req.valid('json')
        const venueId = venue()
        if (!venueId || !(await putDevice(db, secrets, venueId, c.req.valid('param').id, data, secret)))
          return c.json<Problem, 409>({ error: venueId ? GONE.error : 'No venue is open.' }, 409)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/:id/messages/:message',
      documented('Send one of its messages', Done, { 409: 'It did not come through' }),
      given('param', v.object({ ...Id.entries, message: v.pipe(v.string(), v.maxLength(40)) })),
      async (c) => {
        const { id, message } = c.req.valid('param')
        const { ok, why } = await cues().devices.send(id, message, cues().values())
        return ok
          ? c.json({ ok: true as const }, 200)
          : c.json<Problem, 409>({ error: why ?? 'It failed.' }, 409)
      },
    )
    .delete(
      '/:id',
      documented('Delete a device', Done, { 404: GONE.error }),
      given('param', Id),
      async (c) => {
        const venueId = venue()
        if (!venueId || !(await deleteDevice(db, venueId, c.req.valid('param').id)))
          return c.json<Problem, 404>(GONE, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
}
