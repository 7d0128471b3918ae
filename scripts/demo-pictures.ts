/**
 * Computes the demo's presets from where things stand in the barn, renders their pictures, and writes
 * demo/quiz-final.json and demo/pictures. Run it when the barn changes: `npx tsx scripts/demo-pictures.ts`.
 */
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { degToUnits } from '../src/core/heads/profile'
import { headProfile } from '../src/core/heads/registry'
import { createLens } from '../src/core/optics/lens'
import { panTiltOf, type Vec3 } from '../src/core/optics/sphere'
import { barnCameras, PICTURE_PORT, VISCA_PORT } from '../src/simulator/barnCameras'
import { Renderer } from '../src/simulator/picture/renderer'
import { TEAMS } from '../src/simulator/scene/cast'

const profile = headProfile('marsh-20x')
const lens = createLens(profile.lens)
const spec = barnCameras('127.0.84')[0]!

/** A framing: what stands in the middle, and how many metres the picture is wide there. */
const SHOTS: { name: string; at: Vec3; widthM: number }[] = [
  ...TEAMS.map((t) => ({ name: t.name, at: [t.at[0], t.at[1] + 0.95, t.at[2]] as Vec3, widthM: 3.5 })),
  { name: 'Host', at: [-6.2, 2.35, 18], widthM: 2.3 },
  { name: 'Scoreboard', at: [0, 3.7, 21.6], widthM: 6.2 },
  { name: 'Buzzer row', at: [0, 0.85, 10.3], widthM: 4.6 },
  { name: 'Interval trio', at: [6.5, 1.95, 19.1], widthM: 4.2 },
  { name: 'Whole barn', at: [0, 1.9, 15], widthM: 20 },
]

async function main() {
  const renderer = new Renderer()
  const folder = join(__dirname, '..', 'demo', 'pictures')
  mkdirSync(folder, { recursive: true })
  const presets = []
  for (const { name, at, widthM } of SHOTS) {
    const to: Vec3 = [at[0] - spec.eye[0], at[1] - spec.eye[1], at[2] - spec.eye[2]]
    const distance = Math.hypot(...to)
    const aim = panTiltOf(to)
    const hfov = (2 * Math.atan(widthM / 2 / distance) * 180) / Math.PI
    const zoom = Math.round(lens.zoomForHfov(hfov))
    const panDeg = degToUnits(profile.pan, aim.panDeg) / profile.pan.unitsPerDeg
    const tiltDeg = degToUnits(profile.tilt, aim.tiltDeg) / profile.tilt.unitsPerDeg
    const picture = `${name.toLowerCase().replace(/\W+/g, '-')}.jpg`
    const shot = {
      eye: spec.eye,
      yawDeg: 0,
      panDeg,
      tiltDeg,
      hfovDeg: lens.hfovDeg(zoom),
      blurPx: 0,
      atS: 33,
      power: true,
    }
    writeFileSync(join(folder, picture), await renderer.draw(shot, 640, 360, 84))
    presets.push({ name, picture, pose: { panDeg, tiltDeg, zoom, focusAuto: true, focus: null } })
  }
  await renderer.close()
  const host = Number(spec.host.split('.')[3])
  const camera = {
    number: 1,
    name: 'Gallery',
    link: 'visca-udp',
    host,
    port: VISCA_PORT,
    picturePort: PICTURE_PORT,
    headProfile: profile.id,
    presets,
  }
  const demo = { venue: 'Osier Barn', event: 'Fenland Quiz Final', cameras: [camera] }
  writeFileSync(join(folder, '..', 'quiz-final.json'), `${JSON.stringify(demo, null, 2)}\n`)
}

void main()
