/**
 * The stand-ins as a process of their own.
 * Settings: HERON_SIM_PORT (page of truth, default 8421), HERON_SIM_NET (default 127.0.84).
 */
import { headProfile } from '../core/heads/registry'
import { barnCameras } from './barnCameras'
import { Renderer } from './picture/renderer'
import { StandIn } from './standIn'
import { createTruthServer } from './truthServer'

async function main(): Promise<void> {
  const net = process.env.HERON_SIM_NET ?? '127.0.84'
  const port = Number(process.env.HERON_SIM_PORT ?? 8421)
  const renderer = new Renderer()
  const standIns = barnCameras(net).map((spec) => new StandIn(spec, headProfile('marsh-20x'), renderer))
  for (const standIn of standIns) await standIn.listen()
  const truth = createTruthServer(standIns)
  await new Promise<void>((resolve, reject) => {
    truth.once('error', reject)
    truth.listen(port, '127.0.0.1', resolve)
  })
  process.send?.({ ready: true })

  const end = () => process.exit(0)
  process.on('SIGTERM', end)
  process.on('SIGINT', end)
  // Without its parent a stand-in would be left behind.
  process.on('disconnect', end)
}

main().catch((error: NodeJS.ErrnoException & { address?: string; port?: number }) => {
  const taken = error.code === 'EADDRINUSE'
  const text = taken
    ? `The stand-in cameras cannot start: ${error.address}:${error.port} is in use. Stop what uses it, or set HERON_SIM_PORT and HERON_SIM_NET (say 127.0.85).`
    : `The stand-in cameras cannot start: ${error.message}`
  console.error(text)
  process.exit(1)
})
