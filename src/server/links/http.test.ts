import { createServer, type RequestListener, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { http } from './http'

let server: Server | null = null
afterEach(() => server?.close())

/** @returns asks the server once, with a login */
async function serve(listener: RequestListener) {
  server = createServer(listener)
  await new Promise<void>((resolve) => server!.listen(0, '127.0.0.1', resolve))
  const url = new URL(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`)
  return (password = 'secret') => http({ url, login: { user: 'op', password } })
}

test('a device that asked for Digest once never gets the password in the open', async () => {
  let challenge = 'Digest realm="x", nonce="1", qop="auth"'
  const seen: string[] = []
  const ask = await serve((request, response) => {
    const { authorization } = request.headers
    if (authorization) seen.push(authorization.split(' ')[0]!)
    if (authorization && challenge.startsWith('Digest')) response.writeHead(200).end('in')
    else response.writeHead(401, { 'www-authenticate': challenge }).end()
  })
  expect((await ask()).status).toBe(200)
  challenge = 'Basic realm="x"'
  await expect(ask()).rejects.toThrow(/in the open, so it was not sent/)
  expect(seen).toEqual(['Digest', 'Digest'])
})

test('a login is asked for once: later requests bring it along, counted, and a stale one is renewed', async () => {
  const requests: string[] = []
  let nonce = 'first'
  const ask = await serve((request, response) => {
    const { authorization = '' } = request.headers
    const nc = /nc=(\w+)/.exec(authorization)?.[1]
    requests.push(nc ? `${/nonce="(\w+)"/.exec(authorization)![1]} ${Number.parseInt(nc, 16)}` : 'bare')
    if (authorization.includes(`nonce="${nonce}"`)) response.end('in')
    else
      response.writeHead(401, { 'www-authenticate': `Digest realm="x", nonce="${nonce}", qop="auth"` }).end()
  })
  for (let i = 0; i < 3; i++) expect((await ask()).status).toBe(200)
  nonce = 'second'
  for (let i = 0; i < 2; i++) expect((await ask()).status).toBe(200)
  expect(requests).toEqual(['bare', 'first 1', 'first 2', 'first 3', 'first 4', 'second 1', 'second 2'])
})

test('a wrong password is told, and what was remembered is forgotten', async () => {
  let all = 0
  const ask = await serve((_, response) => {
    all += 1
    response.writeHead(401, { 'www-authenticate': 'Digest realm="x", nonce="n", qop="auth"' }).end()
  })
  await expect(ask('wrong')).rejects.toThrow(/refuses this login/)
  await expect(ask('wrong')).rejects.toThrow(/refuses this login/)
  expect(all).toBe(4)
})
