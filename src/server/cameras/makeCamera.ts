/** From a camera's settings to its driver. */

import {
  addressText,
  type Connection,
  type SecretName,
  type Secrets,
  type SingleConnection,
} from '../../core/cameras/connection'
import type { CommandSet } from '../../core/commands/commandSet'
import type { HeadProfile } from '../../core/heads/profile'
import { LEAST_HOLD_MS } from '../../core/stick/dither'
import { FramedSession } from '../../core/visca/framedSession'
import { RawSession } from '../../core/visca/rawSession'
import { openTcp } from '../links/tcp'
import { openUdp } from '../links/udp'
import type { Body } from './body'
import type { Camera, CameraEvents } from './camera'
import type { Clock } from './clock'
import { CommandBody } from './commands/commandBody'
import { MissingBody } from './missingBody'
import { OneCamera } from './oneCamera'
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

function openPort(connection: SingleConnection, { lines, clock }: MakeOptions): ViscaPort | null {
  switch (connection.kind) {
    case 'visca-udp': {
      const nonce = Math.floor(clock.wall()) % 0xffffffff
      return new OwnPort(new FramedSession({ nonce }), openUdp(connection.host, connection.port), clock)
    }
    case 'visca-udp-raw':
      return new OwnPort(new RawSession({}), openUdp(connection.host, connection.port), clock)
    case 'visca-tcp':
      return new OwnPort(new RawSession({}), openTcp(connection.host, connection.port), clock)
    case 'visca-serial':
      return lines.join(connection, connection.address)
    default:
      return null
  }
}

function makeBody(
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
    return new ViscaBody({ profile, address: addressText(connection), parts, ...timing }, port, clock)
  }
  if (connection.kind === 'onvif') return new OnvifBody(profile, { ...connection, password }, clock)
  if (connection.kind !== 'commands') throw new RangeError(`no driver for ${connection.kind}`)
  const set = commandSets.get(connection.set)
  if (!set)
    return new MissingBody('The command set of this camera is not here any more. Choose another in Setup.')
  return new CommandBody(set, profile, parts, { ...connection, password }, clock)
}

export function makeCamera(options: MakeOptions, events: CameraEvents): Camera {
  const { connection, profile, clock } = options
  if (connection.kind !== 'rig') {
    const body = makeBody(connection, { head: true, lens: true }, 'link', options)
    return new OneCamera(profile, { head: body, lens: body }, events, clock)
  }
  const head = makeBody(connection.head, { head: true, lens: false }, 'link', options)
  const lens = makeBody(connection.lens, { head: false, lens: true }, 'lens', options)
  return new OneCamera(profile, { head, lens }, events, clock)
}
