/** A TCP link against a plain server. */
import { type AddressInfo, createServer, type Socket } from 'node:net'
import { openTcp } from './tcp'

test('a connection that is given up is reset, so that nothing it holds arrives late, and another takes its place', async () => {
  const server = createServer()
  const accepted: Socket[] = []
  const endings: string[] = []
  const twice = new Promise<void>((resolve) => {
    server.on('connection', (socket) => {
      accepted.push(socket)
      socket.on('error', (error: NodeJS.ErrnoException) => endings.push(error.code ?? ''))
      socket.on('end', () => endings.push('end'))
      socket.resume()
      if (accepted.length === 2) resolve()
    })
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const link = openTcp('127.0.0.1', (server.address() as AddressInfo).port)
  const opened = new Promise<void>((resolve) => link.onOpen(resolve))
  const said: (string | null)[] = []
  link.onTrouble((text) => said.push(text))
  await opened
  link.renew()
  await twice
  link.close()
  for (const socket of accepted) socket.destroy()
  await new Promise((resolve) => server.close(resolve))
  expect(endings).toEqual(['ECONNRESET'])
  // It was us: that is no trouble of the camera's.
  expect(said.filter(Boolean)).toEqual([])
})
