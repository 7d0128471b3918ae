/** Puts the server together: door, API, pages, sockets. */
import type { IncomingMessage, Server } from 'node:http'
import { join } from 'node:path'
import type { Duplex } from 'node:stream'
import { serve } from '@hono/node-server'
import { sql } from 'drizzle-orm'
import { Hono } from 'hono'
import { secureHeaders } from 'hono/secure-headers'
import { openAPIRouteHandler } from 'hono-openapi'
import { WebSocketServer } from 'ws'
import { createApi } from './api'
import { realClock } from './cameras/clock'
import { Finder } from './finding/finder'
import { Fleet } from './fleet'
import { LiveHub } from './live/liveSocket'
import { servePictures } from './live/pictureSocket'
import { type DoorOptions, door, socketAllowed } from './people/door'
import { roundStore } from './presets/roundStore'
import { Rounds } from './presets/rounds'
import { Catalogue } from './store/catalogue'
import type { Database } from './store/database'
import type { SecretBox } from './store/secrets'
import { Imports } from './venues/imports'
import { venueSchema } from './venues/schemas'
import { servePages } from './web'

export interface AppOptions {
  db: Database
  secrets: SecretBox
  host: string
  port: number
  /** Where backups of venues go. */
  dataFolder: string
  /** The built pages. */
  webFolder: string
  door: DoorOptions
}

const MAX_MESSAGE_BYTES = 16 * 1024

export interface RunningApp {
  close(): Promise<void>
}

export async function startApp(options: AppOptions): Promise<RunningApp> {
  const { db } = options
  const catalogue = new Catalogue(db, options.secrets)
  await catalogue.refresh()
  const fleet: Fleet = new Fleet({
    pose: (camera, pose) => hub.pose(camera, pose),
    health: (camera, health, able) => hub.broadcast({ t: 'health', camera, health, able }),
    travel: (camera, travel) => hub.broadcast({ t: 'travel', camera, travel }),
    notice: (camera, text) => hub.broadcast({ t: 'notice', camera, text }),
  })
  const hub: LiveHub = new LiveHub(
    () => fleet,
    catalogue,
    () => rounds,
  )
  const rounds = new Rounds({
    memberOf: (camera) => fleet.get(camera),
    storeOf: (member) => roundStore({ db, catalogue, changed: () => hub.changed() }, member),
    clock: realClock,
    tell: (camera, round) => hub.broadcast({ t: 'round', camera, round }),
  })
  await fleet.sync(catalogue.current)

  const databaseAnswers = () =>
    db.execute(sql`select 1`).then(
      () => true,
      () => false,
    )
  const finder = new Finder({ lines: fleet.lines, cameras: () => catalogue.current?.view.cameras ?? [] })
  const imports = new Imports(db, join(options.dataFolder, 'backups'), venueSchema())
  const api = createApi({
    finder,
    imports,
    db,
    catalogue,
    secrets: options.secrets,
    fleet: () => fleet,
    databaseAnswers,
    rounds,
    driverOf: (camera) => hub.driverOf(camera),
    recall: (presetId, pace) => hub.recall(presetId, pace, null),
    changed: () => hub.changed(),
  })
  const app = new Hono()
  // Without a referrer of its own origin a browser sends "Origin: null" with the form of the access code.
  app.use(
    secureHeaders({
      crossOriginEmbedderPolicy: false,
      strictTransportSecurity: false,
      referrerPolicy: 'same-origin',
    }),
  )
  app.use(door(options.door))
  app.onError((error, c) => {
    console.error(error)
    return c.json({ error: 'The server could not do this. Try again; if it stays so, restart it.' }, 500)
  })
  const info = {
    title: 'Steady Heron',
    version: '0.1.0',
    description: 'Cameras and presets of the open event.',
  }
  app.get(
    '/api/openapi.json',
    openAPIRouteHandler(api, { documentation: { info, servers: [{ url: '/api' }] } }),
  )
  app.route('/api', api)
  app.all('/api/*', (c) => c.json({ error: 'There is no such route.' }, 404))
  for (const handler of servePages(options.webFolder)) app.get('*', handler)

  const server = await listen(app, options)
  const sockets = new WebSocketServer({ noServer: true, maxPayload: MAX_MESSAGE_BYTES })
  server.on('upgrade', (request: IncomingMessage, stream: Duplex, head: Buffer) => {
    const path = (request.url ?? '').split('?')[0]
    const known = path === '/live' || path === '/live/pictures'
    if (!known || !socketAllowed(request, options.door)) {
      stream.end(`HTTP/1.1 ${known ? '403 Forbidden' : '404 Not Found'}\r\nConnection: close\r\n\r\n`)
      return
    }
    sockets.handleUpgrade(request, stream, head, (socket) => {
      if (path === '/live') hub.accept(socket)
      else servePictures(socket, () => fleet)
    })
  })

  return {
    async close() {
      hub.close()
      for (const socket of sockets.clients) socket.terminate()
      server.close()
      server.closeAllConnections()
      await fleet.close()
    },
  }
}

function listen(app: Hono, { host, port }: AppOptions): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = serve({ fetch: app.fetch, hostname: host, port }, () => resolve(server)) as Server
    server.once('error', reject)
  })
}
