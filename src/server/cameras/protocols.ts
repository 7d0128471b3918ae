/**
 * The table of protocols: how each kind of link is opened, and how it is tried before it is saved. With an
 * entry in core's table of kinds, an entry here and a folder beside it a new protocol is complete.
 */
import { randomInt } from 'node:crypto'
import { addressText, type Connection, deviceKeys, type Picture } from '../../core/cameras/connection'
import { KINDS, type SingleConnection, type SingleKind } from '../../core/cameras/kinds'
import type { CommandSet } from '../../core/commands/commandSet'
import { readTemplate } from '../../core/commands/template'
import type { StopOrder } from '../../core/guardian/stopOrder'
import { type HeadProfile, opened, positionFormat } from '../../core/heads/profile'
import { LEAST_HOLD_MS } from '../../core/stick/dither'
import { FramedSession } from '../../core/visca/framedSession'
import { RawSession } from '../../core/visca/rawSession'
import { framedStops, rawStops, type StopParts } from '../../core/visca/stopPackets'
import { type Success, Trouble } from '../finding/outcome'
import { trySerial } from '../finding/trySerial'
import { tryViscaTcp, tryViscaUdp } from '../finding/tryVisca'
import { certificateOf, certificateWords } from '../links/certificates'
import { reachableAddress } from '../links/reachable'
import { openTcp } from '../links/tcp'
import { openUdp, VISCA_FIXED_PORT } from '../links/udp'
import type { Body } from './body'
import type { Clock } from './clock'
import { CommandBody } from './commands/commandBody'
import { openWire } from './commands/wire'
import { MissingBody } from './missingBody'
import { CLOCK_OFF_MS, OnvifClient } from './onvif/client'
import { describeOnvif } from './onvif/describe'
import { OnvifBody } from './onvif/onvifBody'
import type { Traffic } from './report/traffic'
import { watchedLink, watchedOnvif, watchedWire } from './report/watched'
import type { SerialLines } from './visca/serialLine'
import { ViscaBody } from './visca/viscaBody'
import { OwnPort, type ViscaPort } from './visca/viscaPort'

/** What a device is opened with. */
export interface OpenContext {
  profile: HeadProfile
  /** Is it known that the profile describes the head? */
  confirmed: boolean
  parts: StopParts
  password: string
  commandSets: ReadonlyMap<string, CommandSet>
  lines: SerialLines
  clock: Clock
  /** It may still run from before this server began. */
  suspect: boolean
  /** For the camera's report. */
  traffic: Traffic
}

/** What a device is tried with. */
export interface TryContext {
  /** The host as a number: its name has been looked up. */
  address: string
  password: string
  commandSets: ReadonlyMap<string, CommandSet>
  lines: SerialLines
  /** Of a camera that is being changed: how it is reached now, where it is on in the desk. */
  own: Connection | null
}

type Of<K extends SingleKind> = SingleConnection & { kind: K }

interface Protocol<K extends SingleKind> {
  open(connection: Of<K>, context: OpenContext): Body
  /** @throws Trouble, or DeviceFault */
  tryOut(connection: Of<K>, context: TryContext): Promise<Success>
  /** Where else at an address it may answer, asked without a login. */
  offers: readonly { port: number; connection(host: string, port: number): Of<K> }[]
  answers?(address: string, port: number): Promise<unknown>
}

const SLOW_NETWORK_MS = 250
/** An answer on a full line of seven cameras takes long without anything being wrong. */
const SLOW_SERIAL_MS = 700
/** Its line is shared with others. */
const HOLD_SERIAL_MS = 40
/** The guardian's packets do not follow each other faster than a head can take them, ms. */
const GAP_MS = 20
/** Ports on which ONVIF is often found. */
const ONVIF_PORTS = [80, 8000, 8080, 8899]

const NO_SET = 'The command set of this camera no longer exists. Choose another in Setup.'

const NETWORK = { slowMs: SLOW_NETWORK_MS, holdMs: LEAST_HOLD_MS }
const SERIAL = { slowMs: SLOW_SERIAL_MS, holdMs: HOLD_SERIAL_MS }

function openVisca(
  connection: SingleConnection,
  port: ViscaPort,
  context: OpenContext,
  timing = NETWORK,
): Body {
  const { parts, suspect, clock } = context
  // Ends that may be those of another head would cut off what this one can do.
  const profile = context.confirmed ? context.profile : opened(context.profile)
  return new ViscaBody({ profile, address: addressText(connection), parts, suspect, ...timing }, port, clock)
}

const sessionOf = ({ profile }: OpenContext) => ({ gapMs: profile.gapMs, positions: positionFormat(profile) })

const rawStopsOver =
  (over: 'udp' | 'tcp', { host, port }: { host: string; port: number }) =>
  (parts: StopParts): StopOrder[] => [{ over, host, port, packets: rawStops(parts), gapMs: GAP_MS }]

const usual = <K extends 'visca-udp' | 'visca-udp-raw' | 'visca-tcp'>(kind: K) => [
  {
    port: KINDS[kind].usualPort!,
    connection: (host: string, port: number) => ({ kind, host, port }) as Of<K>,
  },
]

async function tryOnvif(connection: Of<'onvif'>, password: string): Promise<Success> {
  const client = new OnvifClient({ ...connection, password }, Date.now)
  try {
    const from = performance.now()
    await client.readClock()
    const roundTripMs = performance.now() - from
    const device = await describeOnvif(client)
    const { user } = connection
    const pictures: Picture[] = []
    const [stream, snapshot] = await Promise.all(
      [device.streamUrl, device.snapshotUrl].map((url) => url && reachableAddress(url, connection.host)),
    )
    if (stream) pictures.push({ kind: 'rtsp', url: stream, user })
    if (snapshot) pictures.push({ kind: 'jpeg', url: snapshot, user, perSec: 4 })
    const certificate = connection.secure ? certificateOf(connection.host, connection.port) : null
    const remarks = certificate
      ? [`Reached over HTTPS. Its certificate is remembered: ${certificateWords(certificate)}.`]
      : []
    if (Math.abs(client.shiftMs) > CLOCK_OFF_MS)
      remarks.push("The camera's clock is off. Logins are adjusted to it; set its clock when you can.")
    if (!device.node) remarks.push('It gives a picture, but it cannot be driven.')
    return { device: device.name || null, roundTripMs, remarks, pictures }
  } finally {
    client.close()
  }
}

/** Asked with a request that needs no login. */
async function answersOnvif(host: string, port: number): Promise<void> {
  const client = new OnvifClient({ host, port, user: '', password: '' }, Date.now)
  try {
    await client.readClock()
  } finally {
    client.close()
  }
}

/** Does a device speak ONVIF there? */
export const speaksOnvif = (host: string, port: number): Promise<boolean> =>
  answersOnvif(host, port).then(
    () => true,
    () => false,
  )

async function tryCommands(
  connection: Of<'commands'>,
  { password, commandSets }: TryContext,
): Promise<Success> {
  const set = commandSets.get(connection.set)
  if (!set) throw new Trouble('other', 'Choose the command set of this camera first.')
  const wire = openWire(set, { ...connection, password })
  try {
    const from = performance.now()
    const [read] = set.reads
    if (!read && set.transport !== 'http') {
      const remark = 'Its command set reads nothing, so it cannot be known whether a camera is there.'
      return { device: set.name, roundTripMs: null, remarks: [remark], pictures: [] }
    }
    const answer = await wire.send(read ?? { method: 'GET', path: '/' }, {}, true)
    if (read && !readTemplate(read.answer, answer))
      throw new Trouble('not-this-protocol', 'Something answers there, but not as the command set says.')
    return { device: set.name, roundTripMs: performance.now() - from, remarks: [], pictures: [] }
  } finally {
    wire.close()
  }
}

export const PROTOCOLS: { [K in SingleKind]: Protocol<K> } = {
  'visca-udp': {
    open(connection, context) {
      const { host, port } = connection
      const { clock } = context
      const session = new FramedSession({
        ...sessionOf(context),
        nonce: Math.floor(clock.wall()) % 0xffffffff,
      })
      const stops = (parts: StopParts): StopOrder[] => [
        { over: 'udp', host, port, packets: framedStops(parts, randomInt(0xffffffff)), gapMs: GAP_MS },
      ]
      return openVisca(
        connection,
        new OwnPort(
          session,
          watchedLink(openUdp(host, port, VISCA_FIXED_PORT), context.traffic, true),
          clock,
          stops,
        ),
        context,
      )
    },
    tryOut: ({ port }, { address }) => tryViscaUdp(address, port, true),
    offers: usual('visca-udp'),
    answers: (address, port) => tryViscaUdp(address, port, true),
  },
  'visca-udp-raw': {
    open(connection, context) {
      const link = watchedLink(openUdp(connection.host, connection.port), context.traffic, false)
      const port = new OwnPort(
        new RawSession(sessionOf(context)),
        link,
        context.clock,
        rawStopsOver('udp', connection),
      )
      return openVisca(connection, port, context)
    },
    tryOut: ({ port }, { address }) => tryViscaUdp(address, port, false),
    offers: usual('visca-udp-raw'),
    answers: (address, port) => tryViscaUdp(address, port, false),
  },
  'visca-tcp': {
    open(connection, context) {
      const link = watchedLink(openTcp(connection.host, connection.port), context.traffic, false)
      const port = new OwnPort(
        new RawSession({ ...sessionOf(context), connected: true }),
        link,
        context.clock,
        rawStopsOver('tcp', connection),
      )
      return openVisca(connection, port, context)
    },
    tryOut: ({ port }, { address }) => tryViscaTcp(address, port),
    offers: usual('visca-tcp'),
    answers: (address, port) => tryViscaTcp(address, port),
  },
  'visca-serial': {
    open(connection, context) {
      const port = context.lines.join(connection, connection.address, context.traffic)
      port.session.positions = positionFormat(context.profile)
      return openVisca(connection, port, context, SERIAL)
    },
    tryOut(connection, { own, lines }) {
      // Two cannot ask the same camera over one line at a time.
      const taken = own !== null && deviceKeys(own).some((key) => deviceKeys(connection).includes(key))
      return trySerial(lines, connection, taken)
    },
    offers: [],
  },
  onvif: {
    open(connection, { profile, password, clock, suspect, traffic }) {
      const client = watchedOnvif(new OnvifClient({ ...connection, password }, clock.wall), traffic)
      return new OnvifBody(profile, addressText(connection), client, clock, suspect)
    },
    tryOut: (connection, { password }) => tryOnvif(connection, password),
    offers: ONVIF_PORTS.map((port) => ({
      port,
      connection: (host, at) => ({ kind: 'onvif', host, port: at, user: '' }),
    })),
    answers: answersOnvif,
  },
  commands: {
    open(connection, { profile, parts, password, commandSets, clock, suspect, traffic }) {
      const set = commandSets.get(connection.set)
      if (!set) return new MissingBody(NO_SET)
      const address = { ...connection, password }
      const wire = watchedWire(openWire(set, address), traffic)
      return new CommandBody(set, profile, parts, address, wire, clock, suspect)
    },
    tryOut: (connection, context) => tryCommands(connection, context),
    offers: [],
  },
}

/** The protocol of a connection, whichever that is. */
export const protocolOf = ({ kind }: SingleConnection) => PROTOCOLS[kind] as unknown as Protocol<SingleKind>
