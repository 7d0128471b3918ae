/** UDP links to cameras that answer from where nobody asked. */
import { createSocket, type Socket } from 'node:dgram'
import { openUdp } from './udp'

const HOST = '127.0.93.7'
const sockets: Socket[] = []

function bound(port: number, address = HOST): Promise<Socket> {
  return new Promise((resolve, reject) => {
    const socket = createSocket('udp4')
    sockets.push(socket)
    socket.once('error', reject)
    socket.bind(port, address, () => resolve(socket))
  })
}

afterEach(() => {
  for (const socket of sockets.splice(0)) socket.close()
})

/** Sends until something comes back. */
function heardOver(fixedPort: number | null, port: number): Promise<{ text: string; elsewhere: boolean }> {
  const link = openUdp(HOST, port, fixedPort)
  return new Promise((resolve) => {
    const asks = setInterval(() => link.send(Buffer.from('ask')), 100)
    link.onReceive((bytes, elsewhere = false) => {
      clearInterval(asks)
      link.close()
      resolve({ text: Buffer.from(bytes).toString(), elsewhere })
    })
  })
}

test('one that answers from the port that was asked', async () => {
  const camera = await bound(0)
  camera.on('message', (_, from) => camera.send('here', from.port, from.address))
  expect(await heardOver(null, camera.address().port)).toEqual({ text: 'here', elsewhere: false })
})

test('one that answers from another port', async () => {
  const [camera, other] = [await bound(0), await bound(0)]
  camera.on('message', (_, from) => other.send('from elsewhere', from.port, from.address))
  expect(await heardOver(null, camera.address().port)).toEqual({ text: 'from elsewhere', elsewhere: true })
})

test('one that answers to a fixed port of ours', async () => {
  const probe = await bound(0, '127.0.0.1')
  const fixed = probe.address().port
  sockets.splice(sockets.indexOf(probe), 1)
  await new Promise<void>((resolve) => probe.close(() => resolve()))
  const camera = await bound(0)
  camera.on('message', (_, from) => camera.send('to the fixed one', fixed, from.address))
  expect(await heardOver(fixed, camera.address().port)).toEqual({
    text: 'to the fixed one',
    elsewhere: false,
  })
})

test('where nothing listens the system says so, and it goes on trying', async () => {
  const gone = await bound(0)
  const { port } = gone.address()
  sockets.splice(0)
  await new Promise<void>((resolve) => gone.close(() => resolve()))
  const link = openUdp(HOST, port)
  const asks = setInterval(() => link.send(Buffer.from('ask')), 50)
  const said = await new Promise<string | null>((resolve) => link.onTrouble(resolve))
  expect(said).toMatch(/Nothing listens/)
  const camera = await bound(port)
  camera.on('message', (_, from) => camera.send('at last', from.port, from.address))
  const text = await new Promise((resolve) =>
    link.onReceive((bytes) => resolve(Buffer.from(bytes).toString())),
  )
  expect(text).toBe('at last')
  clearInterval(asks)
  link.close()
})
