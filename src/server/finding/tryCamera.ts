/** Tries a camera before it is saved, and says precisely what is wrong. */
import { type Connection, deviceKeys, type Secrets } from '../../core/cameras/connection'
import { KINDS, SINGLE_KINDS, type SingleConnection } from '../../core/cameras/kinds'
import type { CommandSet } from '../../core/commands/commandSet'
import type { HeadProfile } from '../../core/heads/profile'
import { profileAnswering } from '../../core/heads/registry'
import { DeviceFault } from '../cameras/deviceFault'
import { PROTOCOLS, protocolOf } from '../cameras/protocols'
import type { SerialLines } from '../cameras/visca/serialLine'
import { resolveTarget, TargetRefused } from '../links/targets'
import { weakPasswordWarning } from '../store/weakPassword'
import { type Offer, type Outcome, type Success, Trouble } from './outcome'
import { asTrouble } from './tryVisca'

export interface TryContext {
  secrets: Secrets
  commandSets: ReadonlyMap<string, CommandSet>
  /** Of the venue. */
  headProfiles: readonly HeadProfile[]
  lines: SerialLines
  /** Of a camera that is being changed: how it is reached now, where it is on in the desk. */
  own: Connection | null
  /** The other cameras of the venue. */
  others: readonly { name: string; number: number; connection: Connection }[]
}

async function addressOf(host: string, port: number): Promise<string> {
  try {
    return await resolveTarget(host, port)
  } catch (error) {
    throw new Trouble(error instanceof TargetRefused ? 'other' : 'name-unknown', (error as Error).message)
  }
}

function fromDevice(error: unknown): unknown {
  if (!(error instanceof DeviceFault)) return error
  switch (error.kind) {
    case 'login':
    case 'clock':
    case 'open-password':
    case 'certificate':
      return new Trouble(error.kind, error.message)
    case 'nonsense':
      return new Trouble('not-this-protocol', error.message)
    case 'network':
      return asTrouble(Object.assign(new Error(error.message), { code: error.code ?? undefined }))
    default:
      return new Trouble('other', error.message)
  }
}

async function trySingle(
  connection: SingleConnection,
  password: string,
  context: TryContext,
): Promise<Success> {
  const address = 'host' in connection ? await addressOf(connection.host, connection.port) : ''
  try {
    return await protocolOf(connection).tryOut(connection, { ...context, address, password })
  } catch (error) {
    throw fromDevice(error)
  }
}

/** Other usual ways that answer at the same address. */
async function offersFor(connection: SingleConnection): Promise<Offer[]> {
  if (!('host' in connection)) return []
  const { host, port, kind } = connection
  const address = await addressOf(host, port)
  const candidates = SINGLE_KINDS.flatMap((other) =>
    PROTOCOLS[other].offers
      .filter((offer) => other !== kind || offer.port !== port)
      .map((offer) => ({ kind: other, port: offer.port, connection: offer.connection(host, offer.port) })),
  )
  const answers = await Promise.all(
    candidates
      .map(async (candidate) => {
        await PROTOCOLS[candidate.kind].answers?.(address, candidate.port)
        return true
      })
      .map((work) => work.catch(() => false)),
  )
  return candidates
    .filter((_, i) => answers[i])
    .map((c) => ({ label: `${KINDS[c.kind].words}, port ${c.port}`, connection: c.connection }))
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
    head: null,
  }
}

function headOf(found: readonly Success[], own: readonly HeadProfile[]): Outcome['head'] {
  const version = found.map((f) => f.version).find(Boolean)
  const profile = version ? profileAnswering(version, own) : null
  return profile && { id: profile.id, name: profile.name }
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
    head: headOf(found, context.headProfiles),
  }
}
