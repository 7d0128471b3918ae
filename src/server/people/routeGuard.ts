/** Asks of each request whether whoever makes it may, and writes down what was done. */
import type { MiddlewareHandler } from 'hono'
import type { EntryKind } from '../../core/people/journal'
import type { May, PresetPlace } from '../../core/people/may'
import { mayNot } from '../../core/people/rights'
import type { Problem } from '../routes/answers'
import { visitorOf } from './door'
import { type About, routeRight } from './routeRights'

export interface RouteGuardDeps {
  /** Also one that was removed; null if there never was. */
  preset(id: string): Promise<(PresetPlace & { name: string }) | null>
  cameraName(id: string): string
  log(entry: { person: string; kind: EntryKind; camera: string; what: string; refused: string | null }): void
}

const NOT_YOURS = 'This is not one of yours here. Ask an owner of this desk.'

interface Found {
  may: boolean
  camera: string
  /** What it is called, to follow what was done. */
  name: string
}

export function routeGuard(deps: RouteGuardDeps): MiddlewareHandler {
  const nothing: Found = { may: true, camera: '', name: '' }
  async function lookAt(
    about: About,
    { id = '' }: Readonly<Record<string, string>>,
    body: () => Promise<Record<string, unknown>>,
    may: May,
  ): Promise<Found> {
    switch (about) {
      case 'camera':
        return { may: may.camera(id), camera: deps.cameraName(id), name: '' }
      case 'cameraInBody': {
        const { cameraId } = await body()
        const camera = typeof cameraId === 'string' ? cameraId : ''
        return { may: may.camera(camera), camera: deps.cameraName(camera), name: '' }
      }
      case 'preset': {
        const preset = await deps.preset(id)
        // What is not there is told apart by the route, for those who would see it.
        if (!preset) return { ...nothing, may: may.everywhere }
        return { may: may.preset(preset), camera: deps.cameraName(preset.cameraId), name: preset.name }
      }
      case 'presetsInBody': {
        if (may.everywhere) return nothing
        const { ids, cameraId } = await body()
        // Where they are copied to counts as well.
        if (typeof cameraId === 'string' && !may.camera(cameraId)) return { ...nothing, may: false }
        const all = await Promise.all(
          (Array.isArray(ids) ? ids.slice(0, 500) : []).map((one) => deps.preset(String(one))),
        )
        return { ...nothing, may: all.length > 0 && all.every((one) => one !== null && may.preset(one)) }
      }
      case 'cue':
        return { ...nothing, may: may.cue(id) }
      case 'everything':
        return { ...nothing, may: may.everywhere }
      default:
        return nothing
    }
  }
  return async (c, next) => {
    const visitor = visitorOf(c)
    // A key of its own stands for itself: the remote's door looks at what it may.
    if (!visitor) return next()
    const path = c.req.path.slice('/api'.length)
    const { rule, params } = routeRight(c.req.method, path)
    const may = visitor.may()
    const body = async () => ((await c.req.json().catch(() => null)) ?? {}) as Record<string, unknown>
    const found = await lookAt(rule.about, params, body, may)
    const write = (refused: string | null) => {
      if (!rule.log) return
      const { kind, what } = rule.log
      const said = found.name ? `${what}: ${found.name}` : what
      deps.log({ person: visitor.name(), kind, camera: found.camera, what: said, refused })
    }
    const why = may.rights.has(rule.right) ? (found.may ? null : NOT_YOURS) : mayNot(rule.right)
    if (why) {
      write(why)
      return c.json<Problem>({ error: why, where: null }, 403)
    }
    await next()
    if (!rule.log) return
    const answer = c.res.ok
      ? null
      : ((await c.res
          .clone()
          .json()
          .catch(() => null)) as Problem | null)
    write(c.res.ok ? null : (answer?.error ?? 'It was refused.'))
  }
}
