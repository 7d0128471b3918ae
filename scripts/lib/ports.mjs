import { createServer } from 'node:net'

/** Is a TCP port of this computer free on a host? */
export function portFree(port, host = '127.0.0.1') {
  return new Promise((resolve) => {
    const server = createServer()
    server.once('error', () => resolve(false))
    server.listen(port, host, () => server.close(() => resolve(true)))
  })
}

/** Below those that the system hands out by itself, so that none is taken between being found and being used. */
const [LOWEST, HIGHEST] = [15_000, 32_000]

/** Some free TCP port on loopback. */
export async function freePort() {
  for (let i = 0; i < 200; i++) {
    const port = LOWEST + Math.floor(Math.random() * (HIGHEST - LOWEST))
    if (await portFree(port)) return port
  }
  throw new Error('No port of this computer is free.')
}
