/** Serves the built pages, and nothing else that may lie in their folder. */
import { readdirSync } from 'node:fs'
import { join, relative } from 'node:path'
import { serveStatic } from '@hono/node-server/serve-static'
import type { MiddlewareHandler } from 'hono'

/** Paths of all files of the pages, as they are asked for. */
function pageFiles(folder: string): Set<string> {
  const found = new Set<string>()
  const look = (inner: string) => {
    for (const entry of readdirSync(join(folder, inner), { withFileTypes: true })) {
      if (entry.name.startsWith('.')) continue
      const path = join(inner, entry.name)
      if (entry.isDirectory()) look(path)
      else if (entry.isFile()) found.add(`/${path}`)
    }
  }
  look('')
  return found
}

const isHashed = (path: string) => path.startsWith('/_expo/') || path.startsWith('/assets/')
/** A place of the application has no dot in its address; a file has. */
const isPlace = (path: string) => !path.includes('.')

export function servePages(folder: string): MiddlewareHandler[] {
  const root = relative(process.cwd(), folder) || '.'
  const files = pageFiles(folder)
  // Compressed once, when they were built.
  const file = serveStatic({ root, precompressed: true })
  const page = serveStatic({ root, path: 'index.html', precompressed: true })
  const serve: MiddlewareHandler = async (c, next) => {
    const { path } = c.req
    c.header('cache-control', isHashed(path) ? 'public, max-age=31536000, immutable' : 'no-cache')
    if (files.has(path)) return file(c, next)
    return isPlace(path) ? page(c, next) : c.text('There is nothing under this address.', 404)
  }
  return [serve]
}
