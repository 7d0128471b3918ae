/** The stand-ins of the demo venue and where each hangs in the barn. */
import type { StandInSpec } from './standIn'

export const VISCA_PORT = 52381
export const PICTURE_PORT = 8080

/** @param net the first three numbers of the loopback network they live in, "127.x.y" */
export function barnCameras(net: string): StandInSpec[] {
  return [
    {
      id: 'gallery',
      host: `${net}.11`,
      viscaPort: VISCA_PORT,
      picturePort: PICTURE_PORT,
      eye: [0, 3.4, 7.0],
      yawDeg: 0,
      start: { panDeg: 0, tiltDeg: -9, zoom: 0 },
    },
  ]
}
