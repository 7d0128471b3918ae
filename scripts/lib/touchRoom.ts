/** The room of the demo, touched in four of its cameras. */

type Place = readonly [number, number, number]
/** Number, place in metres, and where its pan 0 looks, degrees. */
const CAMERAS: readonly [number, Place, number][] = [
  [1, [0, 3.4, 7], 0],
  [2, [-8.2, 3, 10.2], 40],
  [3, [-7.9, 3.3, 13], 18],
  [6, [2.4, 3.1, 10.6], -12],
]
const POINTS: readonly [string, Place][] = [
  ['Lapwings', [-4.4, 1.8, 15.6]],
  ['Snipes', [4.4, 1.8, 15.6]],
  ['Curlews', [3.7, 0.8, 12.4]],
  ['Bitterns', [-3.7, 0.8, 12.4]],
  ['Lectern', [-6.2, 2.6, 17.3]],
  ['Scoreboard', [0, 4.2, 21.6]],
]
const RAD = Math.PI / 180

export async function touchRoom(address: string): Promise<void> {
  const { cameras } = (await (await fetch(`${address}/api/desk`)).json()) as {
    cameras: { id: string; number: number }[]
  }
  const idOf = (number: number) => cameras.find((one) => one.number === number)!.id
  const room = {
    points: POINTS.map(([name, [x, y, z]], i) => ({
      id: `point-${i}`,
      name,
      marks: CAMERAS.map(([number, at, yawDeg]) => {
        const [dx, dy, dz] = [x - at[0], y - at[1], z - at[2]]
        return {
          cameraId: idOf(number),
          panDeg: Math.atan2(dx, dz) / RAD - yawDeg,
          tiltDeg: Math.atan2(dy, Math.hypot(dx, dz)) / RAD,
        }
      }),
    })),
    length: {
      from: { kind: 'point', id: 'point-0' },
      to: { kind: 'point', id: 'point-1' },
      metres: 8.8,
      upright: false,
    },
    ...{ pins: [], placed: [] },
  }
  const { version } = (await (await fetch(`${address}/api/room`)).json()) as { version: number }
  const answer = await fetch(`${address}/api/room`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'x-steady-heron': '1' },
    body: JSON.stringify({ version, room }),
  })
  if (!answer.ok) throw new Error(await answer.text())
}
