/** How large a request may be: small, except for the few routes that take files. */
import type { MiddlewareHandler } from 'hono'
import { bodyLimit } from 'hono/body-limit'
import type { Problem } from '../routes/answers'

const KB = 1024
const MB = 1024 * KB

const USUAL = 64 * KB
const LARGER: readonly [RegExp, number][] = [
  [/^\/access$/, 4 * KB],
  [/^\/api\/presets\/[^/]+\/picture$/, 20 * MB],
  [/^\/api\/room\/picture$/, 20 * MB],
  [/^\/api\/room$/, MB],
  [/^\/api\/venues\/imports\/zip$/, 200 * MB],
  [/^\/api\/venues\/imports\/csv$/, 4 * MB],
  [/^\/api\/presets\/list$/, 10 * MB],
  [/^\/api\/presets\/(order|copy)$/, MB],
  [/^\/api\/cameras\/order$/, 64 * KB],
  [/^\/api\/command-sets$/, 256 * KB],
]

const said = (bytes: number) => (bytes >= MB ? `${bytes / MB} MB` : `${bytes / KB} kB`)

export const limitFor = (path: string): number => LARGER.find(([at]) => at.test(path))?.[1] ?? USUAL

const limiters = new Map<number, MiddlewareHandler>()

export const bodyLimits: MiddlewareHandler = (c, next) => {
  const maxSize = limitFor(c.req.path)
  const limiter =
    limiters.get(maxSize) ??
    bodyLimit({
      maxSize,
      onError: (refused) =>
        refused.json<Problem>(
          { error: `This is too large: at most ${said(maxSize)} are taken here.`, where: 'body' },
          413,
        ),
    })
  limiters.set(maxSize, limiter)
  return limiter(c, next)
}
