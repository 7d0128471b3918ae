/** How a travel is told to a VISCA head: the speed step that takes about this long, and the focus. */
import type { AxisProfile } from '../../../core/heads/profile'
import { stepForSeconds, stepWithin } from '../../../core/motion/travel'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { Lane } from '../../../core/visca/sessionTypes'
import type { Reading } from '../body'
import type { CameraResult } from '../camera'

/** The step with which an axis takes about this long to get there; its fastest where that is not asked. */
export function travelStep(
  axis: AxisProfile,
  fromDeg: number | null,
  toDeg: number,
  seconds: number | undefined,
  /** It closes a move: it may end sooner, and not later. */
  closes: boolean,
): number {
  if (seconds === undefined || fromDeg === null) return axis.speedsDegPerSec.length
  return (closes ? stepWithin : stepForSeconds)(toDeg - fromDeg, seconds, axis)
}

/**
 * A camera that is busy with both its sockets takes a mode only later, so none is sent without need.
 * @param queue hands an order over
 * @param settle sends what is due
 * @returns null if nothing needs to be sent
 */
export function focusOrders(
  reading: Reading,
  goal: { auto: boolean; focus: number | null },
  queue: (command: ViscaCommand, lanes: readonly Lane[]) => Promise<CameraResult>,
  settle: () => void,
): Promise<CameraResult> | null {
  const { auto, focus } = goal
  const goTo = (position: number) => queue({ kind: 'focusTo', position }, ['focus'])
  if (reading.focusAuto === auto) return auto || focus === null ? null : goTo(focus)
  const mode = queue({ kind: 'focusMode', auto }, [])
  if (auto || focus === null) return mode
  return mode.then((result) => {
    if (!result.ok) return result
    const going = goTo(focus)
    settle()
    return going
  })
}
