/** The response curve of a device, drawn: points are moved by a finger, and the live stick is a dot on it. */
import { useRef, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import Svg, { Circle, Line, Path, Rect } from 'react-native-svg'
import { type Curve, curveAt, DEFAULT_CURVE } from '../../../core/stick/curve'
import { Choice } from '../../basics/Choice'
import { Fader } from '../../controls/Fader'
import { useDrag } from '../../input/useDrag'
import { TONES } from '../../theme/tones'
import { web } from '../../theme/web'

const SIZE = 240
const MARGIN = 14
const SPAN = SIZE - 2 * MARGIN
/** Points keep this far from each other, so that the curve rises. */
const APART = 0.02
const NEAR = 0.12

interface CurveEditorProps {
  curve: Curve
  onChange(curve: Curve): void
  /** How far the stick is pushed beyond its dead zone, 0..1. */
  live: number
}

const toX = (x: number) => MARGIN + x * SPAN
const toY = (y: number) => SIZE - MARGIN - y * SPAN

/** As drawn points, where a blend is to be bent by hand. */
function drawn(curve: Curve): Curve & { kind: 'drawn' } {
  if (curve.kind === 'drawn') return curve
  const at = curveAt(curve)
  return { kind: 'drawn', points: [0.25, 0.5, 0.75].map((x) => [x, Math.round(at(x) * 1000) / 1000]) }
}

export function CurveEditor({ curve, onChange, live }: CurveEditorProps) {
  const moving = useRef<number | null>(null)
  const [, redraw] = useState(0)
  const respond = curveAt(curve)
  const drag = useDrag({
    onMove({ x, y }) {
      if (curve.kind !== 'drawn') return
      const [px, py] = [(x - MARGIN) / SPAN, (SIZE - MARGIN - y) / SPAN]
      const { points } = curve
      if (moving.current === null) {
        const apart = points.map(([a, b]) => Math.hypot(a - px, b - py))
        const nearest = apart.indexOf(Math.min(...apart))
        if ((apart[nearest] ?? 1) > NEAR) return
        moving.current = nearest
      }
      const i = moving.current
      const before: readonly [number, number] = points[i - 1] ?? [0, 0]
      const after: readonly [number, number] = points[i + 1] ?? [1, 1]
      const between = (value: number, low: number, high: number) =>
        Math.min(high - APART, Math.max(low + APART, value))
      const moved: [number, number] = [between(px, before[0], after[0]), between(py, before[1], after[1])]
      onChange({ kind: 'drawn', points: points.map((p, at) => (at === i ? moved : p)) })
    },
    onEnd() {
      moving.current = null
      redraw((n) => n + 1)
    },
  })
  const path = Array.from({ length: 61 }, (_, i) => {
    const x = i / 60
    return `${i ? 'L' : 'M'}${toX(x).toFixed(1)} ${toY(respond(x)).toFixed(1)}`
  }).join('')
  return (
    <View style={styles.editor}>
      <View
        {...drag}
        testID="curve"
        accessibilityLabel="Response curve: push to the right, speed upwards"
        style={[
          styles.graph,
          web({ touchAction: 'none', cursor: curve.kind === 'drawn' ? 'grab' : 'default' }),
        ]}
      >
        <Svg width={SIZE} height={SIZE} style={styles.through}>
          <Rect x={MARGIN} y={MARGIN} width={SPAN} height={SPAN} fill={TONES.ink} stroke={TONES.line} />
          {[0.25, 0.5, 0.75].map((share) => (
            <Line
              key={share}
              x1={toX(share)}
              y1={MARGIN}
              x2={toX(share)}
              y2={SIZE - MARGIN}
              stroke={TONES.reed}
            />
          ))}
          <Line
            x1={MARGIN}
            y1={SIZE - MARGIN}
            x2={SIZE - MARGIN}
            y2={MARGIN}
            stroke={TONES.line}
            strokeDasharray="3 4"
          />
          <Path d={path} fill="none" stroke={TONES.heron} strokeWidth={2} />
          {curve.kind === 'drawn'
            ? curve.points.map(([x, y]) => (
                <Circle
                  key={x}
                  cx={toX(x)}
                  cy={toY(y)}
                  r={9}
                  fill={TONES.heronFilled}
                  stroke={TONES.heron}
                  strokeWidth={2}
                />
              ))
            : null}
          {live > 0 ? <Circle cx={toX(live)} cy={toY(respond(live))} r={6} fill={TONES.sand} /> : null}
        </Svg>
      </View>
      <View style={styles.side}>
        <Choice
          label="Curve"
          options={[
            { value: 'blend', label: 'Even' },
            { value: 'drawn', label: 'Drawn' },
          ]}
          value={curve.kind}
          onChange={(kind) => onChange(kind === 'drawn' ? drawn(curve) : DEFAULT_CURVE)}
          testID="curve-kind"
        />
        {curve.kind === 'blend' ? (
          <Fader
            label="Gentle around the middle"
            value={curve.softness}
            text={`${Math.round(curve.softness * 100)} %`}
            onChange={(softness) => onChange({ kind: 'blend', softness })}
            testID="softness"
          />
        ) : null}
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  editor: { flexDirection: 'row', flexWrap: 'wrap', gap: 14 },
  graph: { width: SIZE, height: SIZE },
  through: { pointerEvents: 'none' },
  side: { flex: 1, minWidth: 220, gap: 10 },
})
