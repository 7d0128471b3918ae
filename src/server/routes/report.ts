/** The camera report, to look at and to send to whoever helps. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { addressText, kindWords } from '../../core/cameras/connection'
import { CameraReport, reportText } from '../../core/cameras/report'
import { profileOf } from '../../core/heads/registry'
import { ORDERS, type OrderName } from '../../core/orders/orders'
import type { Member } from '../fleet'
import { documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const GONE = 'This camera is switched off in the desk, or no longer in the list.'

function learntOf({ camera }: Member): string[] {
  const { device, position, orders, memories } = camera.capabilities
  const learnt: string[] = device ? [`It says that it is ${device}.`] : []
  if (!position.panTilt) learnt.push('It does not report its pan and tilt.')
  if (!position.zoom) learnt.push('It does not report its zoom.')
  if (memories > 0) learnt.push(`It has ${memories} memories.`)
  const can = orders.flatMap((name) => (name === 'setting' ? [] : (ORDERS[name as OrderName]?.what ?? [])))
  return [...learnt, `It can ${can.join(', ')}.`]
}

export function reportRoutes({ catalogue, fleet }: Deps) {
  const reportOf = (id: string): CameraReport | null => {
    const member = fleet().get(id)
    if (!member) return null
    const { row, camera, traffic, history } = member
    return {
      camera: {
        number: row.number,
        name: row.name,
        kind: kindWords(row.connection),
        address: addressText(row.connection),
        headProfile: profileOf(row.headProfile, catalogue.current?.view.headProfiles ?? []).name,
        headConfirmed: row.headConfirmed,
      },
      health: camera.health,
      learnt: learntOf(member),
      quirks: [...camera.quirks],
      history: [...history.samples],
      packets: traffic.packets,
      failures: traffic.failures,
    }
  }
  return new Hono()
    .get(
      '/:id/report',
      documented('What went over the wire to a camera, and what was learnt of it', CameraReport, {
        404: 'It is not in use',
      }),
      given('param', Id),
      (c) => {
        const report = reportOf(c.req.valid('param').id)
        return report ? c.json(report, 200) : c.json<Problem, 404>({ error: GONE }, 404)
      },
    )
    .get('/:id/report/file', given('param', Id), (c) => {
      const report = reportOf(c.req.valid('param').id)
      if (!report) return c.json<Problem, 404>({ error: GONE }, 404)
      return c.body(reportText(report, new Date()), 200, {
        'content-type': 'text/plain; charset=utf-8',
        'content-disposition': `attachment; filename="camera-${report.camera.number}-report.txt"`,
      })
    })
}
