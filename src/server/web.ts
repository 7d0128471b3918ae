/** Serves the built pages: files with a hash in their name for good, the rest always checked. */
import { relative } from 'node:path'
import { serveStatic } from '@hono/node-server/serve-static'
import type { MiddlewareHandler } from 'hono'
import { compress } from 'hono/compress'

export function servePages(folder: string): MiddlewareHandler[] {
  const cache: MiddlewareHandler = async (c, next) => {
    await next()
    const hashed = c.req.path.startsWith('/_expo/') || c.req.path.startsWith('/assets/')
    c.header('cache-control', hashed ? 'public, max-age=31536000, immutable' : 'no-cache')
  }
  const root = relative(process.cwd(), folder) || '.'
  return [
    cache,
    compress(),
    serveStatic({ root }),
    // Every other address is a page of the one application.
    serveStatic({ root, path: 'index.html' }),
  ]
}
