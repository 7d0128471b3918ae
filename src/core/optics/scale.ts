/** Scales along an edge: which part of a range to show, and where to write figures. */

export interface ScaleWindow {
  from: number
  to: number
}

/**
 * The part of a range that holds all the marks with a margin, no narrower than `least`, on whole steps.
 * @param marks values that must be in view
 */
export function scaleWindow(
  range: ScaleWindow,
  marks: readonly number[],
  options: { margin: number; least: number; step: number },
): ScaleWindow {
  const { margin, least, step } = options
  let from = Math.min(...marks) - margin
  let to = Math.max(...marks) + margin
  const missing = least - (to - from)
  if (missing > 0) {
    from -= missing / 2
    to += missing / 2
  }
  // A little beyond the range is shown, so that its end is visible.
  const floor = (x: number) => Math.floor(x / step) * step
  const ceil = (x: number) => Math.ceil(x / step) * step
  return { from: Math.max(floor(from), range.from - step / 2), to: Math.min(ceil(to), range.to + step / 2) }
}

/** Round figures within a window, about `count` of them. */
export function scaleFigures({ from, to }: ScaleWindow, count: number): number[] {
  const rough = (to - from) / count
  const step = [1, 2, 5, 10, 15, 20, 30, 45, 60, 90].find((s) => s >= rough) ?? 90
  const out: number[] = []
  for (let x = Math.ceil(from / step) * step; x <= to; x += step) out.push(x)
  return out
}
