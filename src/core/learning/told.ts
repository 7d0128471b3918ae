/** What a camera has learnt, in rows for the operator: as it was, as it is, and how sure that is. */
import type { HeadProfile } from '../heads/profile'
import { createLens } from '../optics/lens'
import type { HeadLearnt, LearntFigure } from './learnt'

export interface LearntRow {
  key: string
  what: string
  before: string
  after: string
  /** Twice the standard deviation, so that it holds in 95 of 100 cases; '' where it is not a measure. */
  sure: string
  /** Is it so far from what the profile said that a look is worth it? */
  changed: boolean
}

const digits = (x: number, n = 3) => String(Number(x.toPrecision(n)))
/** Further off than this, as a share, counts as changed. */
const WORTH = 0.02
const percent = ({ value, sigma }: LearntFigure) => `± ${digits((200 * sigma) / Math.abs(value), 2)} %`

type Side = [HeadProfile, HeadProfile]

function axisRows(axis: 'pan' | 'tilt', [before, after]: Side, { [axis]: learnt }: HeadLearnt): LearntRow[] {
  const name = axis === 'pan' ? 'Pan' : 'Tilt'
  const [b, a] = [before[axis], after[axis]]
  const rows: LearntRow[] = []
  if (learnt.degPerStep) {
    rows.push({
      key: `${axis}-scale`,
      what: `${name}: steps in a degree`,
      before: digits(b.unitsPerDeg, 4),
      after: digits(a.unitsPerDeg, 5),
      sure: percent(learnt.degPerStep),
      changed: Math.abs(a.unitsPerDeg / b.unitsPerDeg - 1) > WORTH,
    })
    const way =
      axis === 'pan'
        ? (left: boolean) => (left ? 'left' : 'right')
        : (down: boolean) => (down ? 'down' : 'up')
    rows.push({
      key: `${axis}-way`,
      what: `${name}: positions grow`,
      ...{ before: way(b.reversed), after: way(a.reversed), sure: '', changed: a.reversed !== b.reversed },
    })
  }
  if (learnt.drivesReversed !== undefined)
    rows.push({
      key: `${axis}-drives`,
      what: `${name}: drives go`,
      before: b.drivesReversed ? 'the other way' : 'as told',
      after: a.drivesReversed ? 'the other way' : 'as told',
      ...{ sure: '', changed: a.drivesReversed !== b.drivesReversed },
    })
  if (learnt.ends)
    rows.push({
      key: `${axis}-ends`,
      what: `${name}: ends`,
      before: `${digits(b.minDeg, 4)} to ${digits(b.maxDeg, 4)}°`,
      after: `${digits(a.minDeg, 4)} to ${digits(a.maxDeg, 4)}°`,
      sure: '',
      changed: Math.abs(a.minDeg - b.minDeg) > 1 || Math.abs(a.maxDeg - b.maxDeg) > 1,
    })
  const found = learnt.stepsPerSec?.flatMap((figure) => (figure ? [figure] : [])) ?? []
  if (found.length > 0) {
    const [top, was] = [a.speedsDegPerSec.at(-1)!, b.speedsDegPerSec.at(-1)!]
    const worst = found.reduce((w, f) => (f.sigma / f.value > w.sigma / w.value ? f : w))
    const off = Math.max(...a.speedsDegPerSec.map((speed, i) => Math.abs(speed / b.speedsDegPerSec[i]! - 1)))
    rows.push({
      key: `${axis}-speeds`,
      what: `${name}: speeds`,
      before: `${digits(b.speedsDegPerSec[0]!)} to ${digits(was)}°/s`,
      after: `${digits(a.speedsDegPerSec[0]!)} to ${digits(top)}°/s`,
      sure: percent(worst),
      changed: off > 2 * WORTH,
    })
  }
  if (learnt.stepsPerSec2)
    rows.push({
      key: `${axis}-accel`,
      what: `${name}: acceleration`,
      before: `${digits(b.accelDegPerSec2)}°/s²`,
      after: `${digits(a.accelDegPerSec2)}°/s²`,
      sure: percent(learnt.stepsPerSec2),
      changed: Math.abs(a.accelDegPerSec2 / b.accelDegPerSec2 - 1) > 0.2,
    })
  return rows
}

function lensRows([before, after]: Side, { focals, bend, axisWide }: HeadLearnt): LearntRow[] {
  if (!focals || focals.length === 0) return []
  const [b, a] = [createLens(before.lens), createLens(after.lens)]
  const rows: LearntRow[] = []
  const angle = (what: string, zoom: number, figure: LearntFigure) => {
    const [was, is] = [b.hfovDeg(zoom), a.hfovDeg(zoom)]
    rows.push({
      key: what,
      what: `Lens: angle at its ${what}`,
      ...{ before: `${digits(was)}°`, after: `${digits(is, 4)}°`, sure: percent(figure) },
      changed: Math.abs(is / was - 1) > WORTH,
    })
  }
  angle('widest', focals[0]!.zoom, focals[0]!.focal)
  const last = focals.at(-1)!
  if (focals.length > 1) angle('longest', last.zoom, last.focal)
  if (bend) {
    // At the corner of a picture at its widest.
    const r = Math.hypot(1, 1 / after.lens.aspect) / focals[0]!.focal.value
    const share = (k: readonly number[]) => 100 * (k[0]! * r ** 2 + k[1]! * r ** 4)
    const was = before.lens.bend ? share(before.lens.bend) : 0
    const is = share(bend.map(({ value }) => value))
    rows.push({
      key: 'bend',
      what: 'Lens: bend in the corners',
      ...{
        before: `${digits(was, 2)} %`,
        after: `${digits(is, 2)} %`,
        sure: '',
        changed: Math.abs(is - was) > 1,
      },
    })
  }
  if (axisWide)
    rows.push({
      key: 'axis',
      what: 'Lens: axis beside the middle',
      before: '',
      after: `${digits(50 * Math.hypot(axisWide[0].value, axisWide[1].value), 2)} % of the width`,
      ...{ sure: '', changed: false },
    })
  return rows
}

export function learntRows(before: HeadProfile, after: HeadProfile, learnt: HeadLearnt): LearntRow[] {
  const side: Side = [before, after]
  const rows = [
    ...axisRows('pan', side, learnt),
    ...axisRows('tilt', side, learnt),
    ...lensRows(side, learnt),
  ]
  const zooms = learnt.zoomPerSec?.flatMap((figure) => (figure ? [figure] : [])) ?? []
  if (zooms.length > 0) {
    const range = (p: HeadProfile) => {
      const width = p.lens.zoomCurve.at(-1)![0] - p.lens.zoomCurve[0]![0]
      return `${digits(width / p.zoomSpeedsPerSec.at(-1)!)} to ${digits(width / p.zoomSpeedsPerSec[0]!)} s`
    }
    rows.push({
      key: 'zoom-speeds',
      what: 'Zoom: from end to end',
      ...{ before: range(before), after: range(after) },
      sure: percent(zooms.reduce((w, f) => (f.sigma / f.value > w.sigma / w.value ? f : w))),
      changed: after.zoomSpeedsPerSec.some(
        (s, i) => Math.abs(s / before.zoomSpeedsPerSec[i]! - 1) > 2 * WORTH,
      ),
    })
  }
  const ms = (s: number) => `${Math.round(1000 * s)} ms`
  if (learnt.delaySeconds) {
    const was = before.delaySeconds + before.reportLagSeconds
    rows.push({
      key: 'delay',
      what: 'From an order to its report',
      ...{
        before: ms(was),
        after: ms(learnt.delaySeconds.value),
        sure: `± ${ms(2 * learnt.delaySeconds.sigma)}`,
      },
      changed: Math.abs(was - learnt.delaySeconds.value) > 0.02,
    })
  }
  // What is renewed with every question is not known any closer.
  if (learnt.renewSeconds !== undefined && learnt.renewSeconds > 0.02)
    rows.push({
      key: 'renew',
      what: 'A new position every',
      before: '',
      after: ms(learnt.renewSeconds),
      sure: '',
      changed: false,
    })
  if (learnt.restartsRamp !== undefined)
    rows.push({
      key: 'ramp',
      what: 'Each packet starts its ramp anew',
      before: before.restartsRamp ? 'yes' : 'no',
      after: learnt.restartsRamp ? 'yes' : 'no',
      ...{ sure: '', changed: learnt.restartsRamp !== before.restartsRamp },
    })
  if (learnt.repeatsDeg !== undefined)
    rows.push({
      key: 'repeats',
      what: 'Comes back to within',
      before: '',
      after: `${digits(Math.max(2 * learnt.repeatsDeg, 1 / after.pan.unitsPerDeg), 2)}°`,
      sure: '',
      changed: false,
    })
  return rows
}
