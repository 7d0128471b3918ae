/** The server's own TLS: the certificate as it is now, and the page that shows a phone how to trust it. */
import { createServer, type Server } from 'node:http'
import { hostAllowed } from '../people/origin'
import { type OwnCertificate, ownCertificate } from './ownCertificate'
import { trustPage } from './trustPage'

/** The computer may be taken to another network while it runs, ms. */
const LOOK_EVERY_MS = 60_000

export interface Tls {
  now(): Pick<OwnCertificate, 'cert' | 'key'>
  /** PEM: what devices are to trust. */
  authority(): string
  /** Told when there is another. */
  follow(listener: (pair: Pick<OwnCertificate, 'cert' | 'key'>) => void): void
  close(): void
}

export interface TlsOptions {
  folder: string
  /** Names and addresses of the computer, as they are now. */
  names(): readonly string[]
  hosts(): ReadonlySet<string>
  host: string
  /** Of the page that shows how to trust it; spoken plainly, as nobody trusts it yet. */
  trustPort: number
  /** Where the desk is reached. */
  addresses(): readonly string[]
  failed(error: unknown): void
}

export async function openTls(options: TlsOptions): Promise<Tls> {
  let current = await ownCertificate(options.folder, options.names(), Date.now())
  const listeners: ((pair: OwnCertificate) => void)[] = []
  const look = async () => {
    const next = await ownCertificate(options.folder, options.names(), Date.now())
    if (next.cert === current.cert) return
    current = next
    for (const listener of listeners) listener(next)
  }
  const looking = setInterval(() => void look().catch(options.failed), LOOK_EVERY_MS)
  const page = await openTrustPage(options, () => current)
  return {
    now: () => ({ cert: current.cert, key: current.key }),
    authority: () => current.authority,
    follow: (listener) => listeners.push(listener),
    close() {
      clearInterval(looking)
      page.close()
      page.closeAllConnections()
    },
  }
}

function openTrustPage(
  { host, trustPort, hosts, addresses }: TlsOptions,
  current: () => OwnCertificate,
): Promise<Server> {
  const server = createServer((request, answer) => {
    answer.setHeader('x-content-type-options', 'nosniff')
    answer.setHeader('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'")
    if (!hostAllowed(request.headers.host, hosts())) return void answer.writeHead(421).end()
    if (request.url === '/steady-heron.crt') {
      answer.writeHead(200, {
        'content-type': 'application/x-x509-ca-cert',
        'content-disposition': 'attachment; filename="steady-heron.crt"',
      })
      return void answer.end(current().authority)
    }
    if (request.url !== '/') return void answer.writeHead(404).end()
    answer.writeHead(200, { 'content-type': 'text/html; charset=utf-8' })
    answer.end(String(trustPage(addresses(), current().authority)))
  })
  server.on('clientError', (_, socket) => socket.destroy())
  server.headersTimeout = 5000
  return new Promise((resolve, reject) => {
    server.once('error', reject)
    server.listen(trustPort, host, () => {
      server.off('error', reject)
      server.on('error', () => {})
      resolve(server)
    })
  })
}
