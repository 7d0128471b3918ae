/** The HTTP server: doors, limits, API, pages, and the upgrade to sockets. */
import type { IncomingMessage, Server } from 'node:http'
import { createServer as createSecureServer, type Server as SecureServer } from 'node:https'
import type { Socket } from 'node:net'
import type { Duplex } from 'node:stream'
import { serve, upgradeWebSocket } from '@hono/node-server'
import { Hono } from 'hono'
import { secureHeaders } from 'hono/secure-headers'
import { openAPIRouteHandler } from 'hono-openapi'
import { type WebSocket, WebSocketServer } from 'ws'
import type { Api } from '../api'
import type { Fleet } from '../fleet'
import type { FactSockets } from '../live/factSocket'
import type { Halves } from '../live/halves'
import type { LiveHub } from '../live/hub'
import { servePictures } from '../live/pictureSocket'
import { type Outside, withoutBase } from '../people/arrival'
import { type DoorOptions, door, doorForms, visitorOf } from '../people/door'
import type { Passkeys } from '../people/passkeys'
import type { People, Visitor } from '../people/people'
import { type RouteGuardDeps, routeGuard } from '../people/routeGuard'
import type { RemoteKeys } from '../remote/keys'
import type { Problem } from '../routes/answers'
import { keyIn } from '../routes/remote'
import { servePages } from '../web'
import { bodyLimits } from './bodyLimits'
import { tellProblem } from './problems'
import type { Tls } from './tls'

const MAX_MESSAGE_BYTES = 16 * 1024
/** A browser sends its headers at once; a client that dribbles them is cut off, ms. */
const HEADERS_WITHIN_MS = 5000
/** The largest file over a slow network, ms. */
const REQUEST_WITHIN_MS = 180_000
const LOOK_AT_CONNECTIONS_MS = 1000
const MOST_CONNECTIONS = 2000

export interface HttpOptions {
  host: string
  port: number
  webFolder: string
  hosts: DoorOptions['hosts']
  outside: Outside
  /** Of the server's own TLS; null: it speaks plainly. */
  tls: Tls | null
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

interface Inside {
  hub: LiveHub
  factSockets: FactSockets
  keys: () => RemoteKeys
  people: People
  passkeys: () => Passkeys
  guard: RouteGuardDeps
  fleet: () => Fleet
  halves: Halves
}

/** Hands an open socket to whoever serves it. */
const socketFor = (serveIt: (socket: WebSocket) => void) =>
  upgradeWebSocket(() => ({ onOpen: (_, { raw }) => serveIt(raw as unknown as WebSocket) }))

/** The same, for somebody who came through the door. */
const socketOf = (serveIt: (socket: WebSocket, visitor: Visitor) => void) =>
  upgradeWebSocket((c) => {
    const visitor = visitorOf(c)
    return { onOpen: (_, { raw }) => visitor && serveIt(raw as unknown as WebSocket, visitor) }
  })

function makeApp(
  api: Api,
  options: HttpOptions,
  { hub, fleet, factSockets, keys, people, passkeys, guard, halves }: Inside,
): Hono {
  const app = new Hono()
  const watching = new Map<WebSocket, string>()
  people.onEnded((ended) => {
    for (const [socket, session] of watching) if (ended.has(session)) socket.terminate()
  })
  app.onError(tellProblem)
  // Without a referrer of its own origin a browser sends "Origin: null" with a form.
  app.use(
    secureHeaders({
      crossOriginEmbedderPolicy: false,
      // Of a name of its own alone: it would shut out whoever reaches another service under the same one.
      strictTransportSecurity: options.outside.publicUrl?.protocol === 'https:' ? 'max-age=15552000' : false,
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
  app.use(door({ hosts: options.hosts, people, outside: options.outside }))
  app.route('/', doorForms(people, passkeys, options.outside.base))
  app.use('/api/*', routeGuard(guard))
  app.get(
    '/live',
    socketOf((socket, visitor) => hub.accept(socket, visitor)),
  )
  app.get(
    '/live/pictures',
    socketOf((socket, visitor) => {
      watching.set(socket, visitor.session)
      socket.on('close', () => watching.delete(socket))
      servePictures(socket, fleet, visitor, halves)
    }),
  )
  app.get(
    '/api/remote/facts',
    async (c, next) => {
      if (!keys().holderOf(keyIn(c), Date.now()))
        return c.json<Problem>({ error: 'This needs a key of Setup, Remote.', where: 'header' }, 401)
      await next()
    },
    socketFor((socket) => factSockets.accept(socket)),
  )
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

function listen(
  app: Hono,
  sockets: WebSocketServer,
  { host, port, tls, outside }: HttpOptions,
): Promise<Server> {
  return new Promise((resolve, reject) => {
    const serverOptions = {
      headersTimeout: HEADERS_WITHIN_MS,
      requestTimeout: REQUEST_WITHIN_MS,
      connectionsCheckingInterval: LOOK_AT_CONNECTIONS_MS,
    }
    const websocket = { server: sockets }
    const how = tls
      ? { createServer: createSecureServer, serverOptions: { ...serverOptions, ...tls.now() } }
      : { serverOptions }
    const server = serve({ fetch: app.fetch, hostname: host, port, websocket, ...how }, () => {
      server.off('error', reject)
      server.on('error', () => {})
      resolve(server)
    }) as Server
    tls?.follow((pair) => (server as SecureServer).setSecureContext(pair))
    refuseOtherUpgrades(server)
    takeBaseAway(server, outside.base)
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

/** Before anything else sees a request: inside, addresses begin at the desk. */
function takeBaseAway(server: Server, base: string): void {
  if (base === '') return
  const strip = (request: IncomingMessage) => {
    request.url = withoutBase(request.url ?? '/', base)
  }
  server.prependListener('request', strip)
  server.prependListener('upgrade', strip)
}

/** What asks for another protocol than WebSocket is answered: it would stay open and unheard. */
function refuseOtherUpgrades(server: Server): void {
  const [toSocket] = server.listeners('upgrade') as ((...args: unknown[]) => void)[]
  server.removeAllListeners('upgrade')
  server.on('upgrade', (request: IncomingMessage, stream: Duplex, head: Buffer) => {
    // From here on it is ours: a reset before the first message must not end anything else.
    stream.on('error', () => stream.destroy())
    if (request.headers.upgrade?.toLowerCase() === 'websocket') toSocket!(request, stream, head)
    else stream.end('HTTP/1.1 400 Bad Request\r\nConnection: close\r\n\r\n')
  })
}

export async function openHttp(api: Api, options: HttpOptions, inside: Inside): Promise<OpenHttp> {
  const sockets = new WebSocketServer({ noServer: true, maxPayload: MAX_MESSAGE_BYTES })
  sockets.on('wsClientError', (_error, stream) => stream.destroy())
  const server = await listen(makeApp(api, options, inside), sockets, options)
  return {
    close() {
      for (const socket of sockets.clients) socket.terminate()
      server.close()
      server.closeAllConnections()
    },
  }
}
