/**
 * A camera of the field as a process of its own, to try the desk against by hand:
 * `npm run field-camera -- framed 127.0.0.9 52381 '{"visca":{"acks":"completion"}}'`.
 * The first word is framed, raw, tcp, serial (then a path stands in the place of the host) or onvif; the last one is JSON with its switches by group: `head`, `visca`,
 * `framing` and `port` of a VISCA camera, `head`, `onvif` and `socket` of an ONVIF one.
 */
import { FieldHead } from '../src/simulator/independent/fieldHead'
import { FieldOnvifServer, LOGIN } from '../src/simulator/independent/fieldOnvifServer'
import { FieldSerial } from '../src/simulator/independent/fieldSerial'
import { FieldVisca } from '../src/simulator/independent/fieldVisca'
import { FieldViscaPort } from '../src/simulator/independent/fieldViscaPort'

const [over = 'framed', host = '127.0.0.9', port = '0', switches = '{}'] = process.argv.slice(2)
const { head: traits = {}, visca, framing, port: ways, onvif, socket } = JSON.parse(switches)
const head = new FieldHead(traits, performance.now())

async function listen(): Promise<number> {
  if (over === 'onvif') return new FieldOnvifServer(head, onvif, socket).listen(host, Number(port))
  if (over === 'serial') {
    await new FieldSerial(new FieldVisca(head, visca)).listen(host)
    return 0
  }
  if (over !== 'framed' && over !== 'raw' && over !== 'tcp')
    throw new Error(`"${over}" is none of framed, raw, tcp, serial, onvif`)
  const camera = new FieldVisca(head, visca)
  return new FieldViscaPort(over, camera, { ...ways, framing }).listen(host, Number(port))
}

listen().then(
  (at) => {
    console.log(
      `A camera (${over}) listens at ${over === 'serial' ? host : `${host}:${at}`}. End it with Ctrl-C.`,
    )
    if (over === 'onvif') console.log(`Its login is ${LOGIN.user}, ${LOGIN.password}.`)
  },
  (error: Error) => {
    console.error(error.message)
    process.exitCode = 1
  },
)
