/** Where a head looks whose mount was turned, and how far its picture is rolled. Degrees; right, up and clockwise positive. */

const RAD = Math.PI / 180

export interface Knock {
  panDeg: number
  tiltDeg: number
  rollDeg: number
}

type V = readonly [number, number, number]

/** Rolls, then tilts, then pans a direction: x right, y up, z ahead. */
function turned([x, y, z]: V, { panDeg, tiltDeg, rollDeg }: Knock): V {
  const [p, t, r] = [panDeg * RAD, tiltDeg * RAD, -rollDeg * RAD]
  const [x1, y1] = [x * Math.cos(r) - y * Math.sin(r), x * Math.sin(r) + y * Math.cos(r)]
  const [y2, z2] = [y1 * Math.cos(t) + z * Math.sin(t), z * Math.cos(t) - y1 * Math.sin(t)]
  return [x1 * Math.cos(p) + z2 * Math.sin(p), y2, z2 * Math.cos(p) - x1 * Math.sin(p)]
}

/** @param knock of the mount; the head turns on it */
export function mounted(panDeg: number, tiltDeg: number, knock: Knock): Knock {
  const head = { panDeg, tiltDeg, rollDeg: 0 }
  const ahead = turned(turned([0, 0, 1], head), knock)
  const side = turned(turned([1, 0, 0], head), knock)
  const pan = Math.atan2(ahead[0], ahead[2])
  const tilt = Math.asin(Math.min(1, Math.max(-1, ahead[1])))
  // Against a camera that stands upright and looks there.
  const level: V = [Math.cos(pan), 0, -Math.sin(pan)]
  const upward: V = [-Math.sin(pan) * Math.sin(tilt), Math.cos(tilt), -Math.cos(pan) * Math.sin(tilt)]
  const dot = (a: V, b: V) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
  const turns = Math.round((panDeg - pan / RAD) / 360)
  return {
    panDeg: pan / RAD + 360 * turns,
    tiltDeg: tilt / RAD,
    rollDeg: -Math.atan2(dot(side, upward), dot(side, level)) / RAD,
  }
}
