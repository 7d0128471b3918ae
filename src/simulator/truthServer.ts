/** The page of truth, for tests: where each stand-in really stands, and faults to set. */
import { createServer, type IncomingMessage, type Server } from 'node:http'
import * as v from 'valibot'
import type { BarnHouse } from './house/house'
import { Faults } from './protocol/faults'
import type { StandIn } from './standIn'

const MAX_BODY_BYTES = 10_000

async function readJson(request: IncomingMessage): Promise<unknown> {
  let text = ''
  for await (const chunk of request) {
    text += chunk
    if (text.length > MAX_BODY_BYTES) throw new RangeError('the body is too long')
  }
  return text ? JSON.parse(text) : {}
}

async function answer(
  request: IncomingMessage,
  standIns: readonly StandIn[],
  house: BarnHouse,
): Promise<[number, unknown]> {
  const path = (request.url ?? '/').split('?')[0]!
  if (request.method === 'GET' && path === '/truth') return [200, standIns.map((s) => s.truth())]
  if (request.method === 'GET' && path === '/house') return [200, house.state]
  if (request.method === 'GET' && path === '/cameras') return [200, standIns.map((s) => s.spec)]
  const match = /^\/cameras\/([\w-]+)\/faults$/.exec(path)
  if (request.method !== 'POST' || !match) return [404, { error: 'no such page' }]
  const standIn = standIns.find((s) => s.spec.id === match[1])
  if (!standIn) return [404, { error: `no stand-in "${match[1]}"` }]
  const faults = v.safeParse(Faults, await readJson(request))
  if (!faults.success) return [400, { error: v.summarize(faults.issues) }]
  standIn.setFaults(faults.output)
  return [200, faults.output]
}

export function createTruthServer(standIns: readonly StandIn[], house: BarnHouse): Server {
  return createServer((request, response) => {
    answer(request, standIns, house)
      .catch((error: Error): [number, unknown] => [400, { error: error.message }])
      .then(([status, body]) => {
        response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body))
      })
  })
}
