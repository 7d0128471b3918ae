/** The HTTP server: doors, limits, API, pages, and the upgrade to sockets. */
import type { IncomingMessage, Server } from 'node:http'
import type { Socket } from 'node:net'
import type { Duplex } from 'node:stream'
import { serve } from '@hono/node-server'
import { Hono } from 'hono'
import { secureHeaders } from 'hono/secure-headers'
import { openAPIRouteHandler } from 'hono-openapi'
import { WebSocketServer } from 'ws'
import type { Api } from '../api'
import type { Fleet } from '../fleet'
import type { LiveHub } from '../live/hub'
import { servePictures } from '../live/pictureSocket'
import { type DoorOptions, door, socketAllowed } from '../people/door'
import type { Problem } from '../routes/answers'
import { servePages } from '../web'
import { bodyLimits } from './bodyLimits'
import { tellProblem } from './problems'

const MAX_MESSAGE_BYTES = 16 * 1024
/** A browser that is asked for its headers has them ready; whoever dribbles them does not get to stay, ms. */
const HEADERS_WITHIN_MS = 5000
/** The largest file over a slow network, ms. */
const REQUEST_WITHIN_MS = 180_000
const LOOK_AT_CONNECTIONS_MS = 1000
const MOST_CONNECTIONS = 2000

export interface HttpOptions {
  host: string
  port: number
  webFolder: string
  door: DoorOptions
}

export interface OpenHttp {
  close(): void
}

const INFO = {
  title: 'Steady Heron',
  version: '0.1.0',
  description:
    'Cameras and presets of the open event. Every request that changes something carries the header "x-steady-heron: 1". What is refused is answered with { error, where }.',
}

function makeApp(api: Api, options: HttpOptions): Hono {
  const app = new Hono()
  app.onError(tellProblem)
  // Without a referrer of its own origin a browser sends "Origin: null" with the form of the access code.
  app.use(
    secureHeaders({
      crossOriginEmbedderPolicy: false,
      strictTransportSecurity: false,
      referrerPolicy: 'same-origin',
      contentSecurityPolicy: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'"],
        workerSrc: ["'self'"],
        // The pages' styles are made as they are needed.
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        connectSrc: ["'self'"],
        objectSrc: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
    }),
  )
  app.use(bodyLimits)
  app.use(door(options.door))
  app.get(
    '/api/openapi.json',
    openAPIRouteHandler(api, { documentation: { info: INFO, servers: [{ url: '/api' }] } }),
  )
  app.route('/api', api)
  app.all('/api/*', (c) => c.json<Problem>({ error: 'There is no such route.', where: 'path' }, 404))
  for (const handler of servePages(options.webFolder)) app.get('*', handler)
  app.notFound((c) => c.json<Problem>({ error: 'There is nothing under this address.', where: 'path' }, 404))
  return app
}

function listen(app: Hono, { host, port }: HttpOptions): Promise<Server> {
  return new Promise((resolve, reject) => {
    const serverOptions = {
      headersTimeout: HEADERS_WITHIN_MS,
      requestTimeout: REQUEST_WITHIN_MS,
      connectionsCheckingInterval: LOOK_AT_CONNECTIONS_MS,
    }
    const server = serve({ fetch: app.fetch, hostname: host, port, serverOptions }, () => {
      server.off('error', reject)
      server.on('error', () => {})
      resolve(server)
    }) as Server
    server.once('error', reject)
    server.maxConnections = MOST_CONNECTIONS
    server.on('clientError', (error: NodeJS.ErrnoException, socket) => {
      // Browsers open connections ahead of need. An answer there would be taken for that of the next request.
      const unused = (socket as Socket).bytesRead === 0
      if (unused || !socket.writable) return socket.destroy()
      const late = error.code === 'ERR_HTTP_REQUEST_TIMEOUT'
      socket.end(`HTTP/1.1 ${late ? '408 Request Timeout' : '400 Bad Request'}\r\nConnection: close\r\n\r\n`)
    })
    server.on('connection', (socket: Socket) => socket.on('error', () => socket.destroy()))
  })
}

export async function openHttp(
  api: Api,
  options: HttpOptions,
  inside: { hub: LiveHub; fleet: () => Fleet },
): Promise<OpenHttp> {
  const server = await listen(makeApp(api, options), options)
  const sockets = new WebSocketServer({ noServer: true, maxPayload: MAX_MESSAGE_BYTES })
  server.on('upgrade', (request: IncomingMessage, stream: Duplex, head: Buffer) => {
    // From here on it belongs to us: one that is reset before anything is said must end nothing else.
    stream.on('error', () => stream.destroy())
    const path = (request.url ?? '').split('?')[0]
    const known = path === '/live' || path === '/live/pictures'
    if (!known || !socketAllowed(request, options.door)) {
      stream.end(`HTTP/1.1 ${known ? '403 Forbidden' : '404 Not Found'}\r\nConnection: close\r\n\r\n`)
      return
    }
    sockets.handleUpgrade(request, stream, head, (socket) => {
      if (path === '/live') inside.hub.accept(socket)
      else servePictures(socket, inside.fleet)
    })
  })
  sockets.on('wsClientError', (_error, stream) => stream.destroy())
  return {
    close() {
      for (const socket of sockets.clients) socket.terminate()
      server.close()
      server.closeAllConnections()
    },
  }
}
