/** From a camera's settings to its driver. */
import { randomInt } from 'node:crypto'
import {
  addressText,
  type Connection,
  type SecretName,
  type Secrets,
  type SingleConnection,
} from '../../core/cameras/connection'
import type { CommandSet } from '../../core/commands/commandSet'
import type { StopOrder } from '../../core/guardian/stopOrder'
import type { HeadProfile } from '../../core/heads/profile'
import { LEAST_HOLD_MS } from '../../core/stick/dither'
import { FramedSession } from '../../core/visca/framedSession'
import { RawSession } from '../../core/visca/rawSession'
import { framedStops, rawStops } from '../../core/visca/stopPackets'
import { guardedBody } from '../guardian/guardedBody'
import type { Guardian } from '../guardian/guardian'
import { openTcp } from '../links/tcp'
import { openUdp } from '../links/udp'
import type { Body } from './body'
import type { Camera, CameraEvents } from './camera'
import type { Clock } from './clock'
import { CommandBody } from './commands/commandBody'
import { openWire } from './commands/wire'
import { MissingBody } from './missingBody'
import { OneCamera } from './oneCamera'
import { OnvifClient } from './onvif/client'
import { OnvifBody } from './onvif/onvifBody'
import type { SerialLines } from './visca/serialLine'
import { ViscaBody } from './visca/viscaBody'
import { OwnPort, type ViscaPort } from './visca/viscaPort'

export interface MakeOptions {
  connection: Connection
  profile: HeadProfile
  secrets: Secrets
  commandSets: ReadonlyMap<string, CommandSet>
  lines: SerialLines
  clock: Clock
  /** The camera's id and name, for the guardian. */
  camera: { id: string; name: string }
  guardian: Guardian
  /** It may still run from before this server began. */
  suspect: boolean
}

interface Parts {
  head: boolean
  lens: boolean
}

const SLOW_NETWORK_MS = 250
/** An answer on a full line of seven cameras takes long without anything being wrong. */
const SLOW_SERIAL_MS = 700
/** Its line is shared with others. */
const HOLD_SERIAL_MS = 40

/** The guardian's packets do not follow each other faster than a head can take them, ms. */
const GAP_MS = 20

const rawStopsOver =
  (over: 'udp' | 'tcp', { host, port }: { host: string; port: number }) =>
  (parts: Parts): StopOrder[] => [{ over, host, port, packets: rawStops(parts), gapMs: GAP_MS }]

function openPort(connection: SingleConnection, { lines, clock }: MakeOptions): ViscaPort | null {
  switch (connection.kind) {
    case 'visca-udp': {
      const nonce = Math.floor(clock.wall()) % 0xffffffff
      const { host, port } = connection
      const stops = (parts: Parts): StopOrder[] => [
        { over: 'udp', host, port, packets: framedStops(parts, randomInt(0xffffffff)), gapMs: GAP_MS },
      ]
      return new OwnPort(new FramedSession({ nonce }), openUdp(host, port), clock, stops)
    }
    case 'visca-udp-raw':
      return new OwnPort(
        new RawSession({}),
        openUdp(connection.host, connection.port),
        clock,
        rawStopsOver('udp', connection),
      )
    case 'visca-tcp':
      return new OwnPort(
        new RawSession({}),
        openTcp(connection.host, connection.port),
        clock,
        rawStopsOver('tcp', connection),
      )
    case 'visca-serial':
      return lines.join(connection, connection.address)
    default:
      return null
  }
}

/** A device that cannot be made is shown with the reason, and hurts no other. */
function makeBody(...args: Parameters<typeof makeSoundBody>): Body {
  try {
    return makeSoundBody(...args)
  } catch (error) {
    return new MissingBody(`This camera cannot be reached as it is set up: ${(error as Error).message}`)
  }
}

function makeSoundBody(
  connection: SingleConnection,
  parts: Parts,
  secret: SecretName,
  options: MakeOptions,
): Body {
  const { profile, secrets, commandSets, clock } = options
  const password = secrets[secret] ?? ''
  const port = openPort(connection, options)
  if (port) {
    const serial = connection.kind === 'visca-serial'
    const timing = serial
      ? { slowMs: SLOW_SERIAL_MS, holdMs: HOLD_SERIAL_MS }
      : { slowMs: SLOW_NETWORK_MS, holdMs: LEAST_HOLD_MS }
    const address = addressText(connection)
    return new ViscaBody({ profile, address, parts, suspect: options.suspect, ...timing }, port, clock)
  }
  if (connection.kind === 'onvif')
    return new OnvifBody(
      profile,
      addressText(connection),
      new OnvifClient({ ...connection, password }, clock.wall),
      clock,
      options.suspect,
    )
  if (connection.kind !== 'commands') throw new RangeError(`no driver for ${connection.kind}`)
  const set = commandSets.get(connection.set)
  if (!set)
    return new MissingBody('The command set of this camera is not here any more. Choose another in Setup.')
  const address = { ...connection, password }
  return new CommandBody(set, profile, parts, address, openWire(set, address), clock, options.suspect)
}

export function makeCamera(options: MakeOptions, events: CameraEvents): Camera {
  const { connection, profile, clock, guardian } = options
  const guarded = (body: Body, part: string) =>
    guardedBody(body, { camera: options.camera.id, name: options.camera.name, part }, guardian, clock)
  if (connection.kind !== 'rig') {
    const body = guarded(makeBody(connection, { head: true, lens: true }, 'link', options), 'all')
    return new OneCamera(profile, { head: body, lens: body }, events, clock)
  }
  const head = guarded(makeBody(connection.head, { head: true, lens: false }, 'link', options), 'head')
  const lens = guarded(makeBody(connection.lens, { head: false, lens: true }, 'lens', options), 'lens')
  return new OneCamera(profile, { head, lens }, events, clock)
}
