/**
 * Computes the demo's presets from where things stand in the barn, renders their pictures, and writes
 * demo/quiz-final.json and demo/pictures. Run it when the barn changes: `npx tsx scripts/demo-pictures.ts`.
 */
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { CameraSettings, Secrets } from '../src/core/cameras/connection'
import { degToUnits } from '../src/core/heads/profile'
import { headProfile } from '../src/core/heads/registry'
import { createLens } from '../src/core/optics/lens'
import { panTiltOf, type Vec3 } from '../src/core/optics/sphere'
import { barnSpecs, LENS_LOGIN, ONVIF_LOGIN, PORTS, RTSP_PATH } from '../src/simulator/barnCameras'
import { Renderer } from '../src/simulator/picture/renderer'
import { benchSeat, TEAMS } from '../src/simulator/scene/cast'
import type { StandInSpec } from '../src/simulator/standIn'

/** A framing: what stands in the middle, and how many metres the picture is wide there. */
interface Framing {
  name: string
  at: Vec3
  widthM: number
}
const table = (i: number, widthM: number): Framing => {
  const { name, at } = TEAMS[i]!
  return { name, at: [at[0], at[1] + 0.95, at[2]], widthM }
}
const HOST: Framing = { name: 'Host', at: [-6.2, 2.35, 18], widthM: 2.3 }
const BOARD: Framing = { name: 'Scoreboard', at: [0, 3.7, 21.6], widthM: 6.2 }
const TRIO: Framing = { name: 'Interval trio', at: [6.5, 1.95, 19.1], widthM: 4.2 }
const bench = (row: number): Framing => {
  const [x, y, z] = benchSeat(row, 5)
  return { name: `Row ${row + 1}`, at: [x, y + 1, z], widthM: 4.5 }
}

const FRAMINGS: Record<string, Framing[]> = {
  gallery: [
    ...TEAMS.map((_, i) => table(i, 3.5)),
    HOST,
    BOARD,
    { name: 'Buzzer row', at: [0, 0.85, 10.3], widthM: 4.6 },
    TRIO,
    { name: 'Whole barn', at: [0, 1.9, 15], widthM: 20 },
  ],
  'stage-left': [table(0, 3), table(3, 3.2), table(4, 3.4), { ...HOST, widthM: 3 }],
  lectern: [
    { ...HOST, name: 'Host, close', widthM: 1.5 },
    { ...HOST, name: 'Host and lectern', widthM: 3.2 },
    table(3, 3.4),
  ],
  trio: [TRIO, { ...TRIO, name: 'Fiddle', at: [5.4, 2.2, 19], widthM: 1.7 }, table(5, 3.2)],
  benches: [
    { name: 'All benches', at: [0, 1, 0.5], widthM: 15 },
    bench(0),
    bench(1),
    { name: 'Front row, left', at: [-3.2, 1.05, 3.9], widthM: 3.4 },
  ],
  scoreboard: [
    { ...BOARD, widthM: 5.6 },
    { ...BOARD, name: 'Top three', at: [0, 4.1, 21.6], widthM: 3.2 },
    { ...BOARD, name: 'Board and stage', at: [0, 2.8, 19], widthM: 13 },
  ],
}

const mjpeg = (host: string) =>
  ({ kind: 'mjpeg', url: `http://${host}:${PORTS.picture}/stream.mjpg`, user: '' }) as const
const multiviewer = (x: number) =>
  ({ kind: 'cut-stream', stream: mjpeg('@net.13'), rect: { x, y: 0, width: 0.5, height: 1 } }) as const
const serial = (address: number) =>
  ({ kind: 'visca-serial', path: '@serial', baud: 9600, format: '8N1', address }) as const
const page = (host: string) => `http://${host}:${PORTS.picture}/`

type Entry = Pick<CameraSettings, 'name' | 'connection' | 'picture' | 'pageUrl'> & { secrets: Secrets }

const ENTRIES: Record<string, Entry> = {
  gallery: {
    name: 'Gallery',
    connection: { kind: 'visca-udp', host: '@net.11', port: PORTS.framed },
    picture: mjpeg('@net.11'),
    pageUrl: page('@net.11'),
    secrets: {},
  },
  'stage-left': {
    name: 'Stage left',
    connection: { kind: 'visca-tcp', host: '@net.12', port: PORTS.rawTcp },
    picture: mjpeg('@net.12'),
    pageUrl: page('@net.12'),
    secrets: {},
  },
  lectern: { name: 'Lectern', connection: serial(1), picture: multiviewer(0), pageUrl: null, secrets: {} },
  trio: {
    name: 'Interval trio',
    connection: serial(2),
    picture: multiviewer(0.5),
    pageUrl: null,
    secrets: {},
  },
  benches: {
    name: 'Benches',
    connection: { kind: 'onvif', host: '@net.15', port: PORTS.onvif, user: ONVIF_LOGIN.user },
    picture: { kind: 'rtsp', url: `rtsp://@net.15:${PORTS.rtsp}${RTSP_PATH}`, user: ONVIF_LOGIN.user },
    pageUrl: null,
    secrets: { link: ONVIF_LOGIN.password },
  },
  scoreboard: {
    name: 'Scoreboard',
    connection: {
      kind: 'rig',
      head: { kind: 'visca-udp-raw', host: '@net.16', port: PORTS.rawUdp },
      lens: {
        kind: 'commands',
        host: '@net.16',
        port: PORTS.lens,
        set: 'wharf-lens',
        user: LENS_LOGIN.user,
        openly: true,
      },
    },
    picture: {
      kind: 'jpeg',
      url: `http://@net.16:${PORTS.picture}/snapshot.jpg`,
      user: LENS_LOGIN.user,
      openly: true,
      perSec: 4,
    },
    pageUrl: null,
    secrets: { lens: LENS_LOGIN.password, picture: LENS_LOGIN.password },
  },
}

function poseOf(spec: StandInSpec, { at, widthM }: Framing) {
  const profile = headProfile(spec.profile)
  const lens = createLens(profile.lens)
  const to: Vec3 = [at[0] - spec.eye[0], at[1] - spec.eye[1], at[2] - spec.eye[2]]
  const aim = panTiltOf(to)
  const hfov = (2 * Math.atan(widthM / 2 / Math.hypot(...to)) * 180) / Math.PI
  const sign = spec.upsideDown ? -1 : 1
  const turn = ((((aim.panDeg - spec.yawDeg + 180) % 360) + 360) % 360) - 180
  return {
    panDeg: degToUnits(profile.pan, sign * turn) / profile.pan.unitsPerDeg,
    tiltDeg: degToUnits(profile.tilt, sign * aim.tiltDeg) / profile.tilt.unitsPerDeg,
    zoom: Math.round(lens.zoomForHfov(hfov)),
    focusAuto: true,
    focus: null,
  }
}

async function main() {
  const renderer = new Renderer()
  const demo = join(__dirname, '..', 'demo')
  rmSync(join(demo, 'pictures'), { recursive: true, force: true })
  mkdirSync(join(demo, 'pictures'), { recursive: true })
  const cameras = []
  for (const [i, spec] of barnSpecs('@net').entries()) {
    const lens = createLens(headProfile(spec.profile).lens)
    const presets = []
    for (const framing of FRAMINGS[spec.id]!) {
      const pose = poseOf(spec, framing)
      const sign = spec.upsideDown ? -1 : 1
      const shot = {
        eye: spec.eye,
        yawDeg: spec.yawDeg,
        panDeg: sign * pose.panDeg,
        tiltDeg: sign * pose.tiltDeg,
        hfovDeg: lens.hfovDeg(pose.zoom),
        blurPx: 0,
        atS: 33,
        power: true,
      }
      const picture = `${spec.id}-${framing.name.toLowerCase().replace(/\W+/g, '-')}.jpg`
      const { width, height } = spec.picture
      writeFileSync(join(demo, 'pictures', picture), await renderer.draw([shot], width, height, 84))
      presets.push({ name: framing.name, picture, pose })
    }
    cameras.push({
      number: i + 1,
      enabled: true,
      headProfile: spec.profile,
      mount: { upsideDown: spec.upsideDown, mirrored: false },
      ...ENTRIES[spec.id]!,
      presets,
    })
  }
  await renderer.close()
  const commandSets = [JSON.parse(readFileSync(join(demo, 'wharf-lens.json'), 'utf8'))]
  const file = { venue: 'Osier Barn', event: 'Fenland Quiz Final', commandSets, cameras }
  writeFileSync(join(demo, 'quiz-final.json'), `${JSON.stringify(file, null, 2)}\n`)
}

void main()
