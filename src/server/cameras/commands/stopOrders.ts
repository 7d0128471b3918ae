/** A command set's stops, ready-made for the guardian. */
import type { CommandRequest, CommandSet } from '../../../core/commands/commandSet'
import { fillTemplate, type Values } from '../../../core/commands/template'
import type { StopOrder, StopPacket } from '../../../core/guardian/stopOrder'
import { stopLogin } from '../stopLogin'
import type { CommandAddress } from './wire'

const GAP_MS = 10

export function stopOrders(
  set: CommandSet,
  address: CommandAddress,
  stops: readonly { request: CommandRequest; values: Values }[],
): StopOrder[] {
  if (stops.length === 0) return []
  const { host, port, secure } = address
  if (set.transport === 'http') {
    const groups = stops.map(({ request, values }) => [
      {
        url: `${secure ? 'https' : 'http'}://${host}:${port}${fillTemplate(request.path ?? '/', values)}`,
        method: request.method,
        body: request.method === 'GET' ? null : fillTemplate(request.text ?? '', values),
        contentType: request.contentType ?? 'text/plain',
      },
    ])
    return [{ over: 'http', groups, login: set.login === 'none' ? null : stopLogin(address) }]
  }
  const packets = stops.map(({ request, values }): StopPacket => {
    const text = fillTemplate(request.text ?? '', values)
    // The set does not say how it answers a stop.
    return { hex: Buffer.from(text, 'latin1').toString('hex'), answered: null }
  })
  return [{ over: set.transport, host, port, packets, gapMs: GAP_MS }]
}
