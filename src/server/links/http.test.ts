import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { http } from './http'

test('a device that asked for Digest once never gets the password in the open', async () => {
  let challenge = 'Digest realm="x", nonce="1", qop="auth"'
  const seen: string[] = []
  const server = createServer((request, response) => {
    const { authorization } = request.headers
    if (authorization) seen.push(authorization.split(' ')[0]!)
    if (authorization) response.writeHead(200).end('in')
    else response.writeHead(401, { 'www-authenticate': challenge }).end()
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const url = new URL(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`)
  const ask = () => http({ url, login: { user: 'op', password: 'secret' } })
  expect((await ask()).status).toBe(200)
  challenge = 'Basic realm="x"'
  await expect(ask()).rejects.toThrow(/in the open, so it was not sent/)
  expect(seen).toEqual(['Digest'])
  server.close()
})
