/** The certificate of this computer, checked by Node's own TLS, which shares no code with what made it. */
import { X509Certificate } from 'node:crypto'
import { mkdtemp, readFile, stat, writeFile } from 'node:fs/promises'
import { createServer, request } from 'node:https'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ownCertificate } from './ownCertificate'

const NAMES = ['barn', 'barn.local', 'localhost', '127.0.0.1', '10.0.0.5']
const NOW = Date.now()
const DAY_MS = 86_400_000
const folder = () => mkdtemp(join(tmpdir(), 'heron-tls-'))

test('whoever trusts the authority reaches the computer by each of its names, and by no other', async () => {
  const { cert, key, authority } = await ownCertificate(await folder(), NAMES, NOW)
  const server = createServer({ cert, key }, (_, answer) => answer.end('in'))
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const { port } = server.address() as AddressInfo
  const ask = (servername: string, ca?: string) =>
    new Promise<string>((resolve) => {
      const asked = request(
        { host: '127.0.0.1', port, servername, ca, agent: false, path: '/' },
        (answer) => {
          answer.on('data', (data) => resolve(String(data)))
        },
      )
      asked.on('error', (error: NodeJS.ErrnoException) => resolve(error.code ?? error.message))
      asked.end()
    })
  expect(await ask('barn.local', authority)).toBe('in')
  expect(await ask('localhost', authority)).toBe('in')
  expect(await ask('evil.example', authority)).toBe('ERR_TLS_CERT_ALTNAME_INVALID')
  expect(await ask('barn.local')).toMatch(/SELF_SIGNED|UNABLE_TO/)
  server.close()
  const parsed = new X509Certificate(cert)
  expect(NAMES.slice(3).map((name) => parsed.checkIP(name) !== undefined)).toEqual([true, true])
  expect(parsed.ca).toBe(false)
})

test('it is kept; another name or its end make another, by the same authority; keys are for their owner alone', async () => {
  const place = await folder()
  const first = await ownCertificate(place, NAMES, NOW)
  expect(await ownCertificate(place, NAMES, NOW + DAY_MS)).toEqual(first)
  const moved = await ownCertificate(place, [...NAMES, '10.0.0.6'], NOW)
  expect([moved.cert === first.cert, moved.authority === first.authority]).toEqual([false, true])
  const later = await ownCertificate(place, NAMES, NOW + 380 * DAY_MS)
  expect([later.cert === moved.cert, later.authority === first.authority]).toEqual([false, true])
  for (const name of ['authority.pem', 'server.pem'])
    expect((await stat(join(place, 'tls', name))).mode & 0o077).toBe(0)
  // What a server that died while it wrote has left counts for nothing.
  await writeFile(join(place, 'tls', 'server.pem.part'), 'half')
  expect((await ownCertificate(place, NAMES, NOW + 380 * DAY_MS)).cert).toBe(later.cert)
  await writeFile(join(place, 'tls', 'authority.pem'), 'damaged')
  await expect(ownCertificate(place, ['other'], NOW)).rejects.toThrow(/authority.pem is damaged/)
  expect(await readFile(join(place, 'tls', 'authority.pem'), 'utf8')).toBe('damaged')
})
