/** Where times are on a timeline, and where a step that is dragged comes to lie. Pure, so that it can be tested. */

export interface Scale {
  /** px */
  width: number
  seconds: number
}

/** Room for what is written at the last step. */
const AFTER_S = 1.5
const LEAST_S = 8

/** @param endS of the last step */
export const scaleFor = (width: number, endS: number): Scale => ({
  width,
  seconds: Math.max(LEAST_S, endS + AFTER_S, endS * 1.12),
})

export const xOf = ({ width, seconds }: Scale, s: number): number => (s / seconds) * width
export const secondsAt = ({ width, seconds }: Scale, x: number): number => (x / width) * seconds

const STEPS = [0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1800, 3600]
const LEAST_PX = 64

/** Times that are marked. */
export function marksOf(scale: Scale): number[] {
  const step = STEPS.find((s) => xOf(scale, s) >= LEAST_PX) ?? 3600
  return Array.from({ length: Math.floor(scale.seconds / step) + 1 }, (_, i) => i * step)
}

const SNAP_PX = 7
const GRID_S = 0.5
const FINE_S = 0.1

/**
 * @param wanted where the finger has it, s
 * @param anchors starts and ends of other steps, s: they draw it to them
 */
export function snapped(scale: Scale, wanted: number, anchors: readonly number[]): number {
  const near = (s: number) => Math.abs(xOf(scale, s) - xOf(scale, wanted))
  const anchor = anchors.filter((s) => near(s) <= SNAP_PX).sort((a, b) => near(a) - near(b))[0]
  if (anchor !== undefined) return Math.max(0, Math.round(anchor * 10) / 10)
  const grid = Math.round(wanted / GRID_S) * GRID_S
  const fine = Math.round(wanted / FINE_S) * FINE_S
  return Math.max(0, Math.round((near(grid) <= SNAP_PX ? grid : fine) * 10) / 10)
}

/** The outline of a hill, from its speeds. @param most the speed that is as high as there is room */
export function hillPath(hill: readonly number[], width: number, height: number, most: number): string {
  if (hill.length < 2 || width <= 0) return ''
  const points = hill.map((speed, i) => {
    const y = height - Math.min(1, Math.sqrt(speed / most)) * (height - 2)
    return `${((i / (hill.length - 1)) * width).toFixed(1)},${y.toFixed(1)}`
  })
  return `M0,${height} L${points.join(' L')} L${width.toFixed(1)},${height} Z`
}
