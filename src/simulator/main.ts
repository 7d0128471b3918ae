/**
 * The stand-ins as a process of their own.
 * Settings: HERON_SIM_PORT (page of truth, default 8421), HERON_SIM_NET (default 127.0.84),
 * HERON_SIM_SERIAL (path of the serial port that they make), HERON_SIM_TRUTH_HOST (address of the page of
 * truth, default 127.0.0.1), HERON_SIM_PICTURES (`before`: pictures that were drawn beforehand, for measuring),
 * HERON_SIM_TALLY_HOST and HERON_SIM_TALLY (where the switcher sends tally, default 127.0.0.1 and 8421), HERON_SIM_PROGRAM (the
 * inputs on program and preview at the start, as "3,1"; without it nothing is on air),
 * HERON_SIM_RATE (at most so many pictures a second, for a computer that has other things to do).
 */
import { buildBarn, NOTHING_ON_AIR } from './barnCameras'
import { answerProbes } from './onvif/discovery'
import { DrawnBefore } from './picture/drawnBefore'
import { Renderer } from './picture/renderer'
import { createTruthServer } from './truthServer'

async function main(): Promise<void> {
  const net = process.env.HERON_SIM_NET ?? '127.0.84'
  const port = Number(process.env.HERON_SIM_PORT ?? 8421)
  const serial = process.env.HERON_SIM_SERIAL ?? '/tmp/heron-serial'
  const renderer = new Renderer()
  const before = process.env.HERON_SIM_PICTURES === 'before'
  const rate = Number(process.env.HERON_SIM_RATE ?? 30)
  const [program, preview] = (process.env.HERON_SIM_PROGRAM ?? '').split(',').map(Number)
  const barn = buildBarn({
    net,
    serialPath: serial,
    renderer: before ? new DrawnBefore(renderer) : renderer,
    mostPerSec: rate,
    tallyTo: {
      host: process.env.HERON_SIM_TALLY_HOST ?? '127.0.0.1',
      port: Number(process.env.HERON_SIM_TALLY ?? 8421),
    },
    onAir: program && preview ? { program, preview } : NOTHING_ON_AIR,
  })
  const end = () => {
    barn.close()
    process.exit(0)
  }
  process.on('SIGTERM', end)
  process.on('SIGINT', end)
  // Without its parent a stand-in would be left behind.
  process.on('disconnect', end)
  await barn.listen()
  // Finding them is not worth failing for: another program may hold the port of discovery for itself.
  await answerProbes(barn.announced).catch((error: Error) => console.error(`No discovery: ${error.message}`))
  const truth = createTruthServer(barn.standIns, barn.house)
  await new Promise<void>((resolve, reject) => {
    truth.once('error', reject)
    truth.listen(port, process.env.HERON_SIM_TRUTH_HOST ?? '127.0.0.1', resolve)
  })
  process.send?.({ ready: true })
}

main().catch((error: NodeJS.ErrnoException & { address?: string; port?: number }) => {
  const taken = error.code === 'EADDRINUSE'
  const text = taken
    ? `The stand-in cameras cannot start: ${error.address}:${error.port} is in use. Stop what uses it, or set HERON_SIM_PORT and HERON_SIM_NET (say 127.0.85).`
    : `The stand-in cameras cannot start: ${error.message}`
  console.error(text)
  process.exit(1)
})
