/** Tries a camera before it is saved, and says precisely what is wrong. */
import {
  type Connection,
  deviceKeys,
  KIND_WORDS,
  type Picture,
  type Secrets,
  type SingleConnection,
  USUAL_PORT,
} from '../../core/cameras/connection'
import type { CommandSet } from '../../core/commands/commandSet'
import { readTemplate } from '../../core/commands/template'
import { openWire } from '../cameras/commands/wire'
import { DeviceFault } from '../cameras/deviceFault'
import { CLOCK_OFF_MS, OnvifClient } from '../cameras/onvif/client'
import { describeOnvif } from '../cameras/onvif/describe'
import type { SerialLines } from '../cameras/visca/serialLine'
import { resolveTarget, TargetRefused } from '../links/targets'
import { weakPasswordWarning } from '../store/weakPassword'
import { type Offer, type Outcome, type Success, Trouble } from './outcome'
import { trySerial } from './trySerial'
import { asTrouble, tryViscaTcp, tryViscaUdp } from './tryVisca'

export interface TryContext {
  secrets: Secrets
  commandSets: ReadonlyMap<string, CommandSet>
  lines: SerialLines
  /** Of a camera that is being changed: how it is reached now, where it is on in the desk. */
  own: Connection | null
  /** The other cameras of the venue. */
  others: readonly { name: string; number: number; connection: Connection }[]
}

/** Ports on which ONVIF is often found. */
export const ONVIF_PORTS = [80, 8000, 8080, 8899]

async function addressOf(host: string, port: number): Promise<string> {
  try {
    return await resolveTarget(host, port)
  } catch (error) {
    throw new Trouble(error instanceof TargetRefused ? 'other' : 'name-unknown', (error as Error).message)
  }
}

function fromDevice(error: unknown): unknown {
  if (!(error instanceof DeviceFault)) return error
  if (error.kind === 'login' || error.kind === 'clock') return new Trouble(error.kind, error.message)
  if (error.kind === 'nonsense') return new Trouble('not-this-protocol', error.message)
  if (error.kind === 'network')
    return asTrouble(Object.assign(new Error(error.message), { code: error.code ?? undefined }))
  return new Trouble('other', error.message)
}

async function tryOnvif(
  connection: SingleConnection & { kind: 'onvif' },
  password: string,
): Promise<Success> {
  const client = new OnvifClient({ ...connection, password }, Date.now)
  try {
    const from = performance.now()
    await client.readClock()
    const roundTripMs = performance.now() - from
    const device = await describeOnvif(client)
    const { user } = connection
    const pictures: Picture[] = []
    if (device.streamUrl) pictures.push({ kind: 'rtsp', url: device.streamUrl, user })
    if (device.snapshotUrl) pictures.push({ kind: 'jpeg', url: device.snapshotUrl, user, perSec: 4 })
    const remarks: string[] = []
    if (Math.abs(client.shiftMs) > CLOCK_OFF_MS)
      remarks.push("The camera's clock is off. Logins are adjusted to it; set its clock when you can.")
    if (!device.node) remarks.push('It gives a picture, but it cannot be driven.')
    return { device: device.name || null, roundTripMs, remarks, pictures }
  } finally {
    client.close()
  }
}

async function tryCommands(
  connection: SingleConnection & { kind: 'commands' },
  password: string,
  sets: ReadonlyMap<string, CommandSet>,
): Promise<Success> {
  const set = sets.get(connection.set)
  if (!set) throw new Trouble('other', 'Choose the command set of this camera first.')
  const wire = openWire(set, { ...connection, password })
  try {
    const from = performance.now()
    const [read] = set.reads
    if (!read && set.transport !== 'http') {
      return {
        device: set.name,
        roundTripMs: null,
        remarks: ['Its command set reads nothing, so it cannot be known whether a camera is there.'],
        pictures: [],
      }
    }
    const answer = await wire.send(read ?? { method: 'GET', path: '/' }, {}, true)
    if (read && !readTemplate(read.answer, answer))
      throw new Trouble('not-this-protocol', 'Something answers there, but not as the command set says.')
    return { device: set.name, roundTripMs: performance.now() - from, remarks: [], pictures: [] }
  } finally {
    wire.close()
  }
}

async function trySingle(
  connection: SingleConnection,
  password: string,
  context: TryContext,
): Promise<Success> {
  if (connection.kind === 'visca-serial') {
    // Two cannot ask the same camera over one line at a time.
    const own =
      context.own !== null && deviceKeys(context.own).some((key) => deviceKeys(connection).includes(key))
    return trySerial(context.lines, connection, own)
  }
  const address = await addressOf(connection.host, connection.port)
  try {
    switch (connection.kind) {
      case 'visca-udp':
        return await tryViscaUdp(address, connection.port, true)
      case 'visca-udp-raw':
        return await tryViscaUdp(address, connection.port, false)
      case 'visca-tcp':
        return await tryViscaTcp(address, connection.port)
      case 'onvif':
        return await tryOnvif(connection, password)
      case 'commands':
        return await tryCommands(connection, password, context.commandSets)
    }
  } catch (error) {
    throw fromDevice(error)
  }
}

/** Does a device speak ONVIF there? Asked by what needs no login. */
export async function speaksOnvif(host: string, port: number): Promise<boolean> {
  const client = new OnvifClient({ host, port, user: '', password: '' }, Date.now)
  try {
    await client.readClock()
    return true
  } catch {
    return false
  } finally {
    client.close()
  }
}

type NetworkConnection = Exclude<SingleConnection, { kind: 'visca-serial' | 'commands' }>

/** Other usual ways that answer at the same address. */
async function offersFor(connection: SingleConnection): Promise<Offer[]> {
  if (!('host' in connection)) return []
  const { host, port } = connection
  const address = await addressOf(host, port)
  const usual: NetworkConnection[] = [
    { kind: 'visca-udp', host, port: USUAL_PORT['visca-udp']! },
    { kind: 'visca-udp-raw', host, port: USUAL_PORT['visca-udp-raw']! },
    { kind: 'visca-tcp', host, port: USUAL_PORT['visca-tcp']! },
    ...ONVIF_PORTS.map((port) => ({ kind: 'onvif' as const, host, port, user: '' })),
  ]
  const candidates = usual.filter((c) => c.kind !== connection.kind || c.port !== connection.port)
  const answers = await Promise.all(
    candidates
      .map((c) => {
        if (c.kind === 'visca-tcp') return tryViscaTcp(address, c.port).then(() => true)
        if (c.kind === 'onvif') return speaksOnvif(host, c.port)
        return tryViscaUdp(address, c.port, c.kind === 'visca-udp').then(() => true)
      })
      .map((work) => work.catch(() => false)),
  )
  return candidates
    .filter((_, i) => answers[i])
    .map((c) => ({ label: `${KIND_WORDS[c.kind]}, port ${c.port}`, connection: c }))
}

const LOOK_ELSEWHERE = new Set(['nothing-listens', 'no-answer', 'not-this-protocol'])

function takenBy(connection: Connection, context: TryContext): Trouble | null {
  const keys = deviceKeys(connection)
  const other = context.others.find((o) => deviceKeys(o.connection).some((key) => keys.includes(key)))
  if (!other) return null
  return new Trouble(
    'taken',
    `Camera ${other.number}, ${other.name}, already uses this address. Change one of the two.`,
  )
}

function failure(trouble: Trouble, offers: Offer[]): Outcome {
  const { code, message: text } = trouble
  return {
    ok: false,
    problem: { code, text },
    remarks: [],
    offers,
    device: null,
    roundTripMs: null,
    pictures: [],
  }
}

export async function tryCamera(connection: Connection, context: TryContext): Promise<Outcome> {
  const taken = takenBy(connection, context)
  if (taken) return failure(taken, [])
  const rig = connection.kind === 'rig'
  const parts = rig
    ? ([
        ['Head', connection.head, 'link'],
        ['Lens', connection.lens, 'lens'],
      ] as const)
    : ([['', connection, 'link']] as const)
  const found: Success[] = []
  for (const [word, part, secret] of parts) {
    const password = context.secrets[secret] ?? ''
    try {
      const success = await trySingle(part, password, context)
      const weak =
        'user' in part
          ? weakPasswordWarning(rig ? `Its ${word.toLowerCase()}` : 'This camera', part.user, password)
          : null
      found.push({ ...success, remarks: weak ? [...success.remarks, weak] : success.remarks })
    } catch (error) {
      const known = error instanceof Trouble ? error : new Trouble('other', (error as Error).message)
      const offers = rig || !LOOK_ELSEWHERE.has(known.code) ? [] : await offersFor(part).catch(() => [])
      return failure(rig ? new Trouble(known.code, `${word}: ${known.message}`) : known, offers)
    }
  }
  const times = found.map((f) => f.roundTripMs).filter((ms) => ms !== null)
  return {
    ok: true,
    problem: null,
    remarks: found.flatMap((f) => f.remarks),
    offers: [],
    device:
      found
        .map((f) => f.device)
        .filter(Boolean)
        .join(' with ') || null,
    roundTripMs: times.length > 0 ? Math.round(Math.max(...times) * 10) / 10 : null,
    pictures: found.flatMap((f) => f.pictures),
  }
}
