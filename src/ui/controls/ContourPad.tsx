/** The drive pad: each line is a speed in degrees per second at this zoom. Let go and it stops. */

import { memo, useMemo, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import Svg, { Circle, G, Line, Path, Rect, Text as SvgText } from 'react-native-svg'
import type { Feel } from '../../core/controls/controls'
import type { HeadProfile } from '../../core/heads/profile'
import type { Lens } from '../../core/optics/lens'
import { curveAt, DEFAULT_CURVE, shapeStick } from '../../core/stick/curve'
import { contour, padPlace, padToStick } from '../../core/stick/pad'
import { fullTilt, type PadChain, type PadPlace, padLine, placeBelow } from '../../core/stick/padLines'
import { DEFAULT_FEEL } from '../../core/stick/shape'
import { useDescription } from '../basics/useDescription'
import { sticks, useHandPace } from '../input/sticks'
import { type DragPoint, useDrag } from '../input/useDrag'
import { FACES, TONES } from '../theme/tones'
import { web } from '../theme/web'

const SPEEDS = [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 40]
const MARGIN = 10
const { deadZone } = DEFAULT_FEEL
const respondTo = curveAt(DEFAULT_CURVE)
/** Lines closer than this run together, as a share of the pad's half. */
const LEAST_GAP = 0.09

/** A figure takes this much of the height, px; the innermost stands clear of the knob. */
const FIGURE_ROOM = 16
const KNOB_ROOM = 24

interface ContourPadProps {
  size: number
  /** Null if the zoom is not known: then the lines carry no figures. */
  hfovDeg: number | null
  camera: { profile: HeadProfile; lens: Lens }
  feel: Feel
  enabled: boolean
}

interface SpeedLine {
  speed: number
  radius: number
  runs: PadPlace[][]
}

/** The lines that stand apart, from the middle outwards; the rim last, with the speed of full tilt. */
function linesFor(chain: PadChain): SpeedLine[] {
  const lines: SpeedLine[] = []
  for (const speed of SPEEDS) {
    const below = placeBelow(speed, chain)
    if (!below || below.radius > 1 - LEAST_GAP || below.radius < 0.2) continue
    const last = lines[lines.length - 1]
    if (!last || below.radius - last.radius >= LEAST_GAP)
      lines.push({ speed, radius: below.radius, runs: padLine(speed, chain) })
  }
  const rim = contour(1).map(([x, y]) => ({ x, y, radius: 1 }))
  return [...lines, { speed: fullTilt(chain), radius: 1, runs: [[...rim, rim[0]!]] }]
}

/** Those of the lines that have room for their figure, from the rim inwards. */
function figured<T extends { radius: number }>(lines: readonly T[], half: number): T[] {
  const shown: T[] = []
  for (const line of [...lines].reverse()) {
    const outer = shown[shown.length - 1]
    const room = outer ? (outer.radius - line.radius) * half : Number.POSITIVE_INFINITY
    if (room >= FIGURE_ROOM && line.radius * half >= KNOB_ROOM) shown.push(line)
  }
  return shown
}

const figure = (speed: number) =>
  speed >= 10 ? speed.toFixed(0) : speed >= 1 ? String(+speed.toFixed(1)) : String(+speed.toFixed(2))

const Lines = memo(function Lines({ size, hfovDeg, camera, feel }: Omit<ContourPadProps, 'enabled'>) {
  const half = size / 2 - MARGIN
  const pace = useHandPace()
  const { profile, lens } = camera
  const lines = useMemo(() => {
    const zoom = hfovDeg === null ? null : lens.zoomForHfov(hfovDeg)
    return linesFor({ profile, lens, zoom, feel, pace, deadZone, respondTo })
  }, [hfovDeg, profile, lens, feel, pace])
  const path = (runs: PadPlace[][]) =>
    runs
      .map((run) =>
        run
          .map(
            ({ x, y }, i) =>
              `${i ? 'L' : 'M'}${(size / 2 + x * half).toFixed(1)} ${(size / 2 - y * half).toFixed(1)}`,
          )
          .join(''),
      )
      .join('')
  return (
    <G>
      {[...lines].reverse().map(({ speed, radius, runs }, i) => (
        <Path
          key={speed}
          d={path(runs)}
          fill={TONES.heron}
          fillOpacity={0.035}
          stroke={TONES.heron}
          strokeOpacity={i === 0 ? 0.95 : 0.35 + 0.4 * radius}
          strokeWidth={i === 0 ? 1.6 : 1.1}
        />
      ))}
      <Circle
        cx={size / 2}
        cy={size / 2}
        r={deadZone * half + 6}
        fill={TONES.ink}
        stroke={TONES.line}
        strokeDasharray="2 3"
      />
      {(hfovDeg === null ? [] : figured(lines, half)).map(({ speed, radius }, i) => {
        const y = size / 2 + radius * half
        const text = i === 0 ? `${figure(speed)}°/s` : figure(speed)
        const w = text.length * 6.4 + 8
        return (
          <G key={speed}>
            <Rect x={size / 2 - w / 2} y={y - 8} width={w} height={15} rx={4} fill={TONES.ink} />
            <SvgText
              x={size / 2}
              y={y + 4}
              fontSize={11}
              fontFamily={FACES.regular}
              fill={TONES.mist}
              textAnchor="middle"
            >
              {text}
            </SvgText>
          </G>
        )
      })}
    </G>
  )
})

export function ContourPad({ size, hfovDeg, camera, feel, enabled }: ContourPadProps) {
  const [knob, setKnob] = useState<{ x: number; y: number } | null>(null)
  const half = size / 2 - MARGIN
  const { described, description } = useDescription('The arrow keys drive too.')
  const drag = useDrag({
    onMove({ x, y }: DragPoint) {
      if (!enabled) return
      const px = (x - size / 2) / half
      const py = (size / 2 - y) / half
      const stick = padToStick(px, py)
      const push = shapeStick(stick.x, stick.y, deadZone, respondTo)
      setKnob(padPlace(px, py))
      sticks.push('pad', { pan: push.x, tilt: push.y })
    },
    onEnd() {
      setKnob(null)
      sticks.push('pad', null)
    },
  })
  const at = { x: size / 2 + (knob?.x ?? 0) * half, y: size / 2 - (knob?.y ?? 0) * half }
  return (
    <View
      {...drag}
      testID="pad"
      role="application"
      aria-label="Drive pad for pan and tilt"
      {...described}
      style={[
        styles.pad,
        { width: size, height: size },
        !enabled && styles.off,
        web({ touchAction: 'none', userSelect: 'none', cursor: enabled ? 'grab' : 'not-allowed' }),
      ]}
    >
      <Svg width={size} height={size} style={styles.through}>
        <Lines
          size={size}
          hfovDeg={hfovDeg === null ? null : Math.round(hfovDeg * 10) / 10}
          camera={camera}
          feel={feel}
        />
        {knob ? (
          <Line x1={size / 2} y1={size / 2} x2={at.x} y2={at.y} stroke={TONES.sand} strokeWidth={2} />
        ) : null}
        <Circle cx={at.x} cy={at.y} r={knob ? 20 : 15} fill={TONES.sand} fillOpacity={knob ? 1 : 0.9} />
        <Circle cx={at.x} cy={at.y} r={6} fill={TONES.ink} />
      </Svg>
      {description}
    </View>
  )
}

const styles = StyleSheet.create({
  pad: { alignItems: 'center', justifyContent: 'center' },
  off: { opacity: 0.4 },
  through: { pointerEvents: 'none' },
})
