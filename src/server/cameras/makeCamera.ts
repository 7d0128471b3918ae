/** From a camera's settings to its driver. */
import type { Connection, SecretName, Secrets } from '../../core/cameras/connection'
import type { SingleConnection } from '../../core/cameras/kinds'
import type { CommandSet } from '../../core/commands/commandSet'
import { type HeadProfile, opened } from '../../core/heads/profile'
import type { Learnt } from '../../core/motion/follow/ledger'
import type { StopParts } from '../../core/visca/stopPackets'
import { guardedBody } from '../guardian/guardedBody'
import type { Guardian } from '../guardian/guardian'
import type { Body } from './body'
import type { Camera, CameraEvents } from './camera'
import type { Clock } from './clock'
import { MissingBody } from './missingBody'
import { OneCamera } from './oneCamera'
import { protocolOf } from './protocols'
import type { Traffic } from './report/traffic'
import type { SerialLines } from './visca/serialLine'

export interface MakeOptions {
  connection: Connection
  profile: HeadProfile
  /** Is it known that the profile describes the head? */
  confirmed: boolean
  secrets: Secrets
  commandSets: ReadonlyMap<string, CommandSet>
  lines: SerialLines
  clock: Clock
  /** The camera's id and name, for the guardian. */
  camera: { id: string; name: string }
  guardian: Guardian
  /** What was learnt of its speeds before. */
  learnt: Learnt | null
  /** It may still run from before this server began. */
  suspect: boolean
  /** What goes over the wire to it. */
  traffic: Traffic
}

/** A device that cannot be opened is shown with the reason, and does not affect the others. */
function makeBody(
  connection: SingleConnection,
  parts: StopParts,
  secret: SecretName,
  options: MakeOptions,
): Body {
  const { profile, confirmed, secrets, commandSets, lines, clock, suspect, traffic } = options
  const context = {
    traffic,
    profile,
    confirmed,
    parts,
    password: secrets[secret] ?? '',
    commandSets,
    lines,
    clock,
    suspect,
  }
  try {
    return protocolOf(connection).open(connection, context)
  } catch (error) {
    return new MissingBody(`This camera cannot be reached as it is set up: ${(error as Error).message}`)
  }
}

export function makeCamera(options: MakeOptions, events: CameraEvents): Camera {
  const { connection, confirmed, clock, guardian } = options
  const profile = confirmed ? options.profile : opened(options.profile)
  const guarded = (body: Body, part: string) =>
    guardedBody(body, { camera: options.camera.id, name: options.camera.name, part }, guardian, clock)
  if (connection.kind !== 'rig') {
    const body = guarded(makeBody(connection, { head: true, lens: true }, 'link', options), 'all')
    return new OneCamera(profile, { head: body, lens: body }, events, clock, !confirmed, options.learnt)
  }
  const head = guarded(makeBody(connection.head, { head: true, lens: false }, 'link', options), 'head')
  const lens = guarded(makeBody(connection.lens, { head: false, lens: true }, 'lens', options), 'lens')
  return new OneCamera(profile, { head, lens }, events, clock, !confirmed, options.learnt)
}
