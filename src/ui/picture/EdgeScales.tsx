/** The scales along the picture's edges: pan below, tilt at the right, zoom at the left. */
import { memo, useMemo } from 'react'
import type { PointerEvent as RNPointerEvent } from 'react-native'
import { StyleSheet, View } from 'react-native'
import Svg, { Circle, Defs, G, Line, Path, Pattern, Rect, Text as SvgText } from 'react-native-svg'
import type { HeadProfile } from '../../core/heads/profile'
import type { Lens } from '../../core/optics/lens'
import { type ScaleWindow, scaleFigures, scaleWindow } from '../../core/optics/scale'
import type { LivePose } from '../../core/presets/pose'
import type { Posed } from '../presets/posed'
import { FACES, TONES } from '../theme/tones'
import { web } from '../theme/web'

export const LEFT = 30
export const RIGHT = 38
export const BELOW = 34
/** A touch this near to a tick recalls it, px. */
const REACH = 24

interface Tick {
  id: string
  value: number
}

interface EdgeScalesProps {
  width: number
  height: number
  profile: HeadProfile
  lens: Lens
  pose: LivePose | null
  presets: readonly Posed[]
  /** Preset at which the camera stands. */
  hereId: string | null
  onTick(id: string): void
}

/** Remembers the widest window so far, so that the scale does not jump to and fro as the head moves. */
function useWindow(
  range: ScaleWindow,
  ticks: readonly Tick[],
  here: number | null,
  least: number,
): ScaleWindow {
  const ends = useMemo(() => {
    if (ticks.length === 0) return []
    const values = ticks.map((t) => t.value)
    return [Math.min(...values), Math.max(...values)]
  }, [ticks])
  // The head's place counts in whole tens, so that a small move does not shift the scale.
  const low = here === null ? null : Math.floor(here / 10) * 10
  const high = here === null ? null : Math.ceil(here / 10) * 10
  return useMemo(() => {
    const values = [...ends, ...(low === null || high === null ? [] : [low, high])]
    return scaleWindow(range, values.length === 0 ? [0] : values, { margin: 8, least, step: 10 })
  }, [ends, low, high, range, least])
}

interface TickMarksProps {
  ticks: readonly Tick[]
  hereId: string | null
  from: number
  to: number
  /** Px of the scale. */
  length: number
  along: 'right' | 'up'
}

const MARK = {
  right: (at: number) => `M${at} 6 l5 10 h-10 z`,
  up: (at: number) => `M5 ${at} l9 5 v-10 z`,
}

/** One path for all of them, however many: it is redrawn only when the scale is another. */
const TickMarks = memo(function TickMarks({ ticks, hereId, from, to, length, along }: TickMarksProps) {
  const place = (value: number) => {
    const at = ((value - from) / (to - from)) * length
    // Two in the same half of a pixel look like one.
    return Math.round(2 * (along === 'right' ? at : length - at)) / 2
  }
  const here = ticks.find((t) => t.id === hereId)
  const places = [...new Set(ticks.map((t) => place(t.value)))]
  return (
    <>
      <Path d={places.map(MARK[along]).join(' ')} fill={TONES.heron} />
      {here ? <Path d={MARK[along](place(here.value))} fill={TONES.sand} /> : null}
    </>
  )
})

function nearest(ticks: readonly Tick[], place: (value: number) => number, at: number): string | null {
  let best: { id: string; far: number } | null = null
  for (const tick of ticks) {
    const far = Math.abs(place(tick.value) - at)
    if (far <= REACH && (!best || far < best.far)) best = { id: tick.id, far }
  }
  return best?.id ?? null
}

/** Null where it is not known. */
const placed = (value: number | null | undefined, place: (value: number) => number): number | null =>
  value === null || value === undefined ? null : place(value)

function PanScale(p: EdgeScalesProps & { ticks: Tick[] }) {
  const { minDeg, maxDeg } = p.profile.pan
  const range = useMemo(() => ({ from: minDeg, to: maxDeg }), [minDeg, maxDeg])
  const scale = useWindow(range, p.ticks, p.pose?.panDeg ?? null, 60)
  const place = (deg: number) => ((deg - scale.from) / (scale.to - scale.from)) * p.width
  const pick = (event: RNPointerEvent) => {
    const box = (event.currentTarget as unknown as HTMLElement).getBoundingClientRect()
    const id = nearest(p.ticks, place, event.nativeEvent.clientX - box.left)
    if (id) p.onTick(id)
  }
  const at = placed(p.pose?.panDeg, place)
  const view = ((p.pose?.hfovDeg ?? 0) / (scale.to - scale.from)) * p.width
  return (
    <View
      style={[styles.pan, { left: LEFT, top: p.height, width: p.width }, web({ cursor: 'pointer' })]}
      onPointerUp={pick}
      testID="pan-scale"
    >
      <Svg width={p.width} height={BELOW} style={styles.through}>
        <Defs>
          <Pattern
            id="beyond"
            width={6}
            height={6}
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <Rect width={2.5} height={6} fill={TONES.clay} />
          </Pattern>
        </Defs>
        {scale.from < minDeg ? (
          <Rect x={0} y={1} width={place(minDeg)} height={9} fill="url(#beyond)" />
        ) : null}
        {scale.to > maxDeg ? (
          <Rect x={place(maxDeg)} y={1} width={p.width - place(maxDeg)} height={9} fill="url(#beyond)" />
        ) : null}
        {scaleFigures(scale, p.width / 52).map((deg) => (
          <G key={deg}>
            <Line x1={place(deg)} y1={1} x2={place(deg)} y2={6} stroke={TONES.mist} strokeOpacity={0.7} />
            <SvgText
              x={Math.min(p.width - 12, Math.max(12, place(deg)))}
              y={29}
              fontSize={11}
              fill={TONES.mist}
              fontFamily={FACES.regular}
              textAnchor="middle"
            >
              {`${deg}°`}
            </SvgText>
          </G>
        ))}
        <TickMarks
          ticks={p.ticks}
          hereId={p.hereId}
          from={scale.from}
          to={scale.to}
          length={p.width}
          along="right"
        />
        {at !== null ? (
          <G>
            <Rect x={at - view / 2} y={0.5} width={Math.max(4, view)} height={3} rx={1.5} fill={TONES.sand} />
            <Line x1={at} y1={0} x2={at} y2={16} stroke={TONES.sand} strokeWidth={1.5} />
          </G>
        ) : null}
      </Svg>
    </View>
  )
}

function TiltScale(p: EdgeScalesProps & { ticks: Tick[] }) {
  const { minDeg, maxDeg } = p.profile.tilt
  const range = useMemo(() => ({ from: minDeg, to: maxDeg }), [minDeg, maxDeg])
  const scale = useWindow(range, p.ticks, p.pose?.tiltDeg ?? null, 30)
  const place = (deg: number) => p.height - ((deg - scale.from) / (scale.to - scale.from)) * p.height
  const pick = (event: RNPointerEvent) => {
    const box = (event.currentTarget as unknown as HTMLElement).getBoundingClientRect()
    const id = nearest(p.ticks, place, event.nativeEvent.clientY - box.top)
    if (id) p.onTick(id)
  }
  const at = placed(p.pose?.tiltDeg, place)
  const zoom = p.pose?.zoom ?? null
  const view = zoom === null ? 0 : (p.lens.vfovDeg(zoom) / (scale.to - scale.from)) * p.height
  return (
    <View
      style={[styles.tilt, { left: LEFT + p.width, height: p.height }, web({ cursor: 'pointer' })]}
      onPointerUp={pick}
      testID="tilt-scale"
    >
      <Svg width={RIGHT} height={p.height} style={styles.through}>
        {scale.from < minDeg ? (
          <Rect x={1} y={place(minDeg)} width={9} height={p.height - place(minDeg)} fill="url(#beyond)" />
        ) : null}
        {scale.to > maxDeg ? <Rect x={1} y={0} width={9} height={place(maxDeg)} fill="url(#beyond)" /> : null}
        {scaleFigures(scale, p.height / 46).map((deg) => (
          <G key={deg}>
            <Line x1={1} y1={place(deg)} x2={5} y2={place(deg)} stroke={TONES.mist} strokeOpacity={0.7} />
            <SvgText
              x={RIGHT - 1}
              y={Math.min(p.height - 3, Math.max(10, place(deg) + 4))}
              fontSize={10}
              fill={TONES.mist}
              fontFamily={FACES.regular}
              textAnchor="end"
            >
              {`${deg}°`}
            </SvgText>
          </G>
        ))}
        <TickMarks
          ticks={p.ticks}
          hereId={p.hereId}
          from={scale.from}
          to={scale.to}
          length={p.height}
          along="up"
        />
        {at !== null ? (
          <G>
            <Rect x={0.5} y={at - view / 2} width={3} height={Math.max(4, view)} rx={1.5} fill={TONES.sand} />
            <Line x1={0} y1={at} x2={15} y2={at} stroke={TONES.sand} strokeWidth={1.5} />
          </G>
        ) : null}
      </Svg>
    </View>
  )
}

const MAGNIFICATIONS = [1, 2, 4, 8, 16, 32]

function ZoomScale(p: EdgeScalesProps) {
  const top = Math.log(p.lens.magnification(p.lens.tele))
  const inset = 6
  const place = (magnification: number) =>
    p.height - inset - (Math.log(magnification) / top) * (p.height - 2 * inset)
  const at = placed(p.pose?.zoom, (zoom) => place(p.lens.magnification(zoom)))
  return (
    <View style={[styles.zoom, { height: p.height }]} testID="zoom-scale">
      <Svg width={LEFT} height={p.height}>
        <Line
          x1={LEFT - 4}
          y1={inset}
          x2={LEFT - 4}
          y2={p.height - inset}
          stroke={TONES.line}
          strokeWidth={2}
        />
        {MAGNIFICATIONS.filter((m) => Math.log(m) <= top + 1e-6).map((m) => (
          <SvgText
            key={m}
            x={LEFT - 10}
            y={Math.max(10, place(m) + 4)}
            fontSize={10}
            fill={TONES.mist}
            fontFamily={FACES.regular}
            textAnchor="end"
          >
            {`${m}×`}
          </SvgText>
        ))}
        {at !== null ? (
          <G>
            <Line
              x1={LEFT - 4}
              y1={at}
              x2={LEFT - 4}
              y2={p.height - inset}
              stroke={TONES.heron}
              strokeWidth={3}
            />
            <Circle cx={LEFT - 4} cy={at} r={4} fill={TONES.sand} />
          </G>
        ) : null}
      </Svg>
    </View>
  )
}

export function EdgeScales(props: EdgeScalesProps) {
  const { presets } = props
  const pan = useMemo(() => presets.map((p) => ({ id: p.id, value: p.pose.panDeg })), [presets])
  const tilt = useMemo(() => presets.map((p) => ({ id: p.id, value: p.pose.tiltDeg })), [presets])
  return (
    <>
      <ZoomScale {...props} />
      <TiltScale {...props} ticks={tilt} />
      <PanScale {...props} ticks={pan} />
    </>
  )
}

const styles = StyleSheet.create({
  pan: { position: 'absolute', height: BELOW },
  tilt: { position: 'absolute', top: 0, width: RIGHT },
  zoom: { position: 'absolute', left: 0, top: 0, width: LEFT },
  through: { pointerEvents: 'none' },
})
