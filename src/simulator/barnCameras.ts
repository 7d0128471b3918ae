/** The stand-ins of the demo venue: where each hangs in the barn, what it is like, and how it is reached. */
import { headProfile } from '../core/heads/registry'
import { BarnHouse } from './house/house'
import { LightsServer } from './house/lightsServer'
import { ScoreServer } from './house/scoreServer'
import { OnvifActions } from './onvif/actions'
import type { Announced } from './onvif/discovery'
import { OnvifServer } from './onvif/onvifServer'
import { PictureServer } from './picture/pictureServer'
import type { Drawing } from './picture/renderer'
import { Sight } from './picture/sight'
import { LensBody } from './protocol/lensBody'
import { SerialChain } from './protocol/serialChain'
import { TcpCamera } from './protocol/tcpCamera'
import { UdpCamera } from './protocol/udpCamera'
import { framed, raw } from './protocol/wireProtocol'
import { StandIn, type StandInSpec } from './standIn'
import { Switcher } from './switcher/buses'
import { SwitcherServer } from './switcher/switcherServer'
import { Encoder } from './video/encoder'
import { RtspServer } from './video/rtspServer'

export const PORTS = {
  framed: 52381,
  rawUdp: 1259,
  rawTcp: 5678,
  picture: 8080,
  onvif: 8000,
  rtsp: 8554,
  lens: 8090,
}
/** Made-up logins of the demo. */
export const ONVIF_LOGIN = { user: 'operator', password: 'reed-warbler-41' }
export const LENS_LOGIN = { user: 'lens', password: 'tidewater-7' }
export const RTSP_PATH = '/benches'

const SMALL = { width: 480, height: 270, perSec: 10 }
const PLAIN = { upsideDown: false, grain: 0, answerMs: 0, picture: SMALL, cast: { red: 1, blue: 1 } }

/** @param net as in BarnSettings */
export function barnSpecs(net: string): StandInSpec[] {
  const at = (last: number) => `${net}.${last}`
  return [
    {
      ...PLAIN,
      id: 'gallery',
      profile: 'marsh-20x',
      host: at(11),
      eye: [0, 3.4, 7],
      yawDeg: 0,
      start: { panDeg: 0, tiltDeg: -9, zoom: 0 },
      picture: { width: 640, height: 360, perSec: 15 },
    },
    {
      ...PLAIN,
      id: 'stage-left',
      cast: { red: 1.1, blue: 0.9 },
      profile: 'marsh-12x',
      host: at(12),
      eye: [-8.2, 3, 10.2],
      yawDeg: 40,
      start: { panDeg: 12, tiltDeg: -10, zoom: 2600 },
      answerMs: 6,
    },
    {
      ...PLAIN,
      id: 'lectern',
      cast: { red: 0.9, blue: 1.12 },
      profile: 'sedge-10x',
      host: at(13),
      eye: [-7.9, 3.3, 13],
      yawDeg: 18,
      start: { panDeg: 0, tiltDeg: -10, zoom: 3600 },
      grain: 0.2,
    },
    {
      ...PLAIN,
      id: 'trio',
      cast: { red: 0.94, blue: 1.08 },
      profile: 'sedge-10x',
      host: at(13),
      eye: [3.2, 4.3, 12.6],
      yawDeg: 27,
      upsideDown: true,
      start: { panDeg: 0, tiltDeg: 17, zoom: 3600 },
      grain: 0.26,
    },
    {
      ...PLAIN,
      id: 'benches',
      cast: { red: 1.07, blue: 1.05 },
      profile: 'mere-18x',
      host: at(15),
      eye: [0, 4.1, 13.4],
      yawDeg: 180,
      start: { panDeg: 0, tiltDeg: -16, zoom: 2400 },
      answerMs: 12,
    },
    {
      ...PLAIN,
      id: 'scoreboard',
      cast: { red: 1.02, blue: 0.86 },
      profile: 'staithe-30x',
      host: at(16),
      eye: [2.4, 3.1, 10.6],
      yawDeg: -12,
      start: { panDeg: 0, tiltDeg: 2, zoom: 1500 },
      grain: 0.1,
      answerMs: 4,
    },
  ]
}

/** The switcher's inputs: the cameras in the order of their numbers, and two that nothing is plugged into. */
const INPUTS = [
  'Gallery',
  'Stage left',
  'Lectern',
  'Interval trio',
  'Benches',
  'Scoreboard',
  'Spare 7',
  'Spare 8',
]
export const NOTHING_ON_AIR = { program: 8, preview: 7 }

export interface BarnSettings {
  /** The first three numbers of the loopback network they live in, "127.x.y". */
  net: string
  /** Where the near end of the serial line is to be. */
  serialPath: string
  renderer: Drawing
  /** Pictures a second. */
  mostPerSec: number
  /** To which the switcher sends tally. */
  tallyTo: { host: string; port: number }
  onAir: { program: number; preview: number }
}

export interface Barn {
  standIns: StandIn[]
  announced: Announced[]
  house: BarnHouse
  listen(): Promise<void>
  close(): void
}

export function buildBarn({ net, serialPath, renderer, mostPerSec, tallyTo, onAir }: BarnSettings): Barn {
  const rate = (perSec: number) => Math.min(perSec, mostPerSec)
  const all = new Map(barnSpecs(net).map((spec) => [spec.id, new StandIn(spec, headProfile(spec.profile))]))
  const house = new BarnHouse(() => performance.now())
  for (const standIn of all.values()) standIn.house = house
  const others = [new LightsServer(`${net}.21`, house), new ScoreServer(`${net}.22`, house)]
  const of = (id: string) => all.get(id)!
  const [gallery, stage, lectern, trio] = ['gallery', 'stage-left', 'lectern', 'trio'].map(of) as StandIn[]
  const [benches, board] = ['benches', 'scoreboard'].map(of) as [StandIn, StandIn]
  const sight = (s: StandIn) => new Sight(renderer, () => [s.shot()], s.spec.picture)
  const pictures = (s: StandIn, login?: { user: string; password: string }) =>
    new PictureServer(
      { host: s.spec.host, port: PORTS.picture, perSec: rate(s.spec.picture.perSec), login },
      sight(s).draw,
    )
  const onvif = (s: StandIn, name: string, urls: { streamUrl: string; snapshotUrl: string }) =>
    new OnvifServer(
      { host: s.spec.host, port: PORTS.onvif, name, ...ONVIF_LOGIN, ...urls },
      s.head,
      new OnvifActions(s.head),
      s.spec.answerMs,
    )

  gallery!.ports.push(
    new UdpCamera(gallery!.head, framed(gallery!.head), gallery!.spec.host, PORTS.framed),
    pictures(gallery!),
    onvif(gallery!, 'Marsh 20x', {
      streamUrl: '',
      snapshotUrl: `http://${gallery!.spec.host}:${PORTS.picture}/snapshot.jpg`,
    }),
  )
  stage!.ports.push(
    new TcpCamera(stage!.head, stage!.spec.host, PORTS.rawTcp, stage!.spec.answerMs),
    pictures(stage!),
  )

  const chain = new SerialChain([lectern!.head, trio!.head], serialPath, 9600)
  lectern!.ports.push(chain.camera(0))
  trio!.ports.push(chain.camera(1))
  // They have no picture of their own on the network: a multiviewer shows both side by side.
  const multiviewer = new PictureServer(
    { host: `${net}.13`, port: PORTS.picture, perSec: rate(SMALL.perSec) },
    new Sight(renderer, () => [lectern!.shot(), trio!.shot()], SMALL).draw,
  )

  const encoder = new Encoder(sight(benches).draw, rate(benches.spec.picture.perSec))
  benches.ports.push(
    onvif(benches, 'Mere 18x', {
      streamUrl: `rtsp://${benches.spec.host}:${PORTS.rtsp}${RTSP_PATH}`,
      snapshotUrl: '',
    }),
    new RtspServer({ host: benches.spec.host, port: PORTS.rtsp, path: RTSP_PATH, ...ONVIF_LOGIN }, encoder),
  )
  board.ports.push(
    new UdpCamera(board.head, raw(board.head, { lens: false }), board.spec.host, PORTS.rawUdp),
    new LensBody(board.head, board.spec.host, PORTS.lens, LENS_LOGIN, board.spec.answerMs),
    pictures(board, LENS_LOGIN),
  )

  const switcher = new Switcher(INPUTS, onAir, () => performance.now())
  const cameras = [...all.values()]
  const nothing = { ...gallery!.shot(), power: false }
  const shotOf = (input: number) => cameras[input - 1]?.shot() ?? nothing
  const program = new Sight(
    renderer,
    () => {
      const { program: seen, preview, fade } = switcher.buses
      return fade === null ? [shotOf(seen)] : [shotOf(seen), shotOf(preview)]
    },
    SMALL,
    undefined,
    () => switcher.buses.fade,
  )
  const switching = new SwitcherServer(`${net}.20`, switcher, {
    perSec: rate(SMALL.perSec),
    draw: program.draw,
  })

  const announce = (s: StandIn, name: string): Announced => ({
    endpoint: `urn:uuid:0000aaaa-0000-1000-8000-${net.replace(/\D/g, '').padStart(9, '0')}${s.spec.host.split('.')[3]!.padStart(3, '0')}`,
    addresses: [`http://${s.spec.host}:${PORTS.onvif}/onvif/device_service`],
    scopes: [`onvif://www.onvif.org/name/${encodeURIComponent(name)}`, 'onvif://www.onvif.org/type/ptz'],
    present: () => s.present,
  })
  return {
    standIns: [...all.values()],
    house,
    announced: [announce(gallery!, 'Marsh 20x'), announce(benches, 'Mere 18x')],
    async listen() {
      await multiviewer.listen()
      await chain.listen()
      await switching.listen([{ kind: 'tsl31-udp', ...tallyTo }])
      for (const other of others) await other.listen()
      for (const standIn of all.values()) await standIn.listen()
    },
    close() {
      multiviewer.close()
      switching.close()
      chain.close()
      for (const other of others) other.close()
      for (const standIn of all.values()) standIn.close()
    },
  }
}
