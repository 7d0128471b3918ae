/**
 * The move to a preset, drawn: a hill is its speed on the screen over time. Opened, its axes over time within what the
 * head can do, and, of the newest move that went there, what was planned and what was measured.
 */
import { useMemo, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import Svg, { Line, Path, Polyline } from 'react-native-svg'
import useSWR from 'swr'
import { zoomOf } from '../../core/motion/follow/followMove'
import { limitsOf, longestSmoothSeconds } from '../../core/motion/follow/limits'
import { pathSeen } from '../../core/motion/follow/pathSeen'
import { hillOf, previewOf } from '../../core/motion/follow/preview'
import { type MovePoint, type MoveRecord, sampled } from '../../core/motion/follow/record'
import type { MoveLimits, MoveTrajectory } from '../../core/motion/plan/types'
import { createLens } from '../../core/optics/lens'
import { sightOf } from '../../core/optics/sight'
import { QUICK, secondsOf } from '../../core/presets/pace'
import { aimed } from '../../core/presets/pose'
import { NO_LIMITS } from '../../core/stick/speeds'
import type { CameraView, PresetView } from '../../server/api'
import { readMove } from '../api/client'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { useFactValue } from '../live/useFactValue'
import { useHead } from '../live/useHead'
import { RADIUS, TONES } from '../theme/tones'
import { MovePath } from './MovePath'

const WIDTH = 320
const HILL = 56
const CHART = 64
/** The pose follows at most so often, ms. */
const EVERY_MS = 500

const percent = (share: number) => `${(share * 100).toFixed(share < 0.01 ? 2 : 1)} %`

interface MoveDrawnProps {
  preset: PresetView
  camera: CameraView
}

export function MoveDrawn({ preset, camera }: MoveDrawnProps) {
  const profile = useHead(camera)
  const lens = useMemo(() => createLens(profile.lens), [profile])
  const sight = useMemo(
    () => sightOf({ profile, lens, mount: camera.mount, limits: camera.limits ?? NO_LIMITS, digital: true }),
    [profile, lens, camera.mount, camera.limits],
  )
  const [open, setOpen] = useState(false)
  const from = useFactValue('pose', camera.id, (pose) => aimed(pose), EVERY_MS)
  const arrived = useFactValue('travel', camera.id, (t) => t?.presetId === preset.id && t.state === 'arrived')
  const to = aimed(preset.pose)
  if (!from || !to) return null
  const pace = preset.pace ?? camera.pace ?? QUICK
  const zoomLog = Math.log(lens.focalMm(to.zoom) / lens.focalMm(from.zoom))
  const asked = secondsOf(pace, from, to, zoomLog)
  const plan = previewOf(profile, lens, from, to, asked)
  const { seconds } = plan.trajectory
  const smooth = longestSmoothSeconds(plan.trajectory, profile, lens, [from.zoom, to.zoom])
  const hill = hillOf(plan, profile)
  const viewAt = (panDeg: number, tiltDeg: number, log: number) =>
    sight.view({ panDeg, tiltDeg, zoom: zoomOf(lens, log) })
  const most = Math.max(...hill, 1e-6)
  const points = hill.map(
    (speed, i) =>
      `${((i / (hill.length - 1)) * WIDTH).toFixed(1)},${(HILL - (speed / most) * (HILL - 6)).toFixed(1)}`,
  )
  const here = most < 1e-5
  const words = here
    ? 'The camera stands there.'
    : `${asked === null ? 'As a smooth move from here' : 'From here'}: ${seconds.toFixed(1)} s, at most ${percent(most)} of the picture a second.`
  return (
    <View style={styles.box} testID="move-drawn">
      <Words size={14} weight="semiBold">
        The move to this preset
      </Words>
      {here ? null : (
        <Svg width={WIDTH} height={HILL} accessibilityLabel="Speed on the screen over time">
          <Path d={`M0,${HILL} L${points.join(' L')} L${WIDTH},${HILL} Z`} fill={TONES.heronFilled} />
          <Polyline points={points.join(' ')} stroke={TONES.heron} strokeWidth={2} fill="none" />
        </Svg>
      )}
      <Words size={13} tone="mist">
        {words}
      </Words>
      {plan.tooShort ? (
        <Words size={13} tone="clay">
          {`In ${asked} s this camera cannot be there; it takes ${plan.leastSeconds.toFixed(1)} s.`}
        </Words>
      ) : null}
      {!here && asked !== null && smooth !== null && asked > smooth ? (
        <Words size={13} tone="clay">
          {`So slowly it cannot move smoothly: ${smooth.toFixed(1)} s is the longest that is smooth.`}
        </Words>
      ) : null}
      <Key
        label={open ? 'Less' : 'Pan, tilt and zoom'}
        onPress={() => setOpen(!open)}
        style={styles.key}
        testID="move-open"
      />
      {open ? (
        <>
          {camera.picture.kind === 'none' || here ? null : (
            <MovePath camera={camera.id} path={pathSeen(plan.trajectory, viewAt)} width={WIDTH} />
          )}
          <AxisCharts planned={sampled(plan.trajectory)} measured={[]} seconds={seconds} />
          {here ? null : (
            <Words size={13} tone="mist">
              {speedWords(plan.trajectory, limitsOf(profile, lens, from.zoom, to.zoom))}
            </Words>
          )}
          <Measured camera={camera.id} key={String(arrived)} />
        </>
      ) : null}
    </View>
  )
}

/** The greatest speed of each axis, and what of the head is used for moves. */
function speedWords(trajectory: MoveTrajectory, limits: MoveLimits): string {
  const points = Array.from({ length: 65 }, (_, i) => trajectory.at((trajectory.seconds * i) / 64))
  const fastest = (axis: 'pan' | 'tilt') => Math.max(...points.map((p) => Math.abs(p[axis].velocity)))
  const of = (axis: 'pan' | 'tilt') => `${fastest(axis).toFixed(1)} of ${limits[axis].speed.toFixed(0)} °/s`
  const zooms = Math.max(...points.map((p) => Math.abs(p.zoom.velocity))) / limits.zoom.speed
  return `At its fastest: pan ${of('pan')}, tilt ${of('tilt')}, zoom ${Math.round(100 * zooms)} % of what it can.`
}

/** How the newest timed move of the camera went. */
function Measured({ camera }: { camera: string }) {
  const { data } = useSWR<MoveRecord | null>(`move ${camera}`, () => readMove(camera).catch(() => null), {
    refreshInterval: 2000,
  })
  if (!data || data.measured.length < 2) return null
  return (
    <View style={styles.box} testID="move-measured">
      <Words size={14} weight="semiBold">
        The newest timed move of this camera
      </Words>
      <AxisCharts planned={data.planned} measured={data.measured} seconds={data.seconds} />
      {data.off ? (
        <Words size={13} tone={data.off.median > 0.02 ? 'clay' : 'mist'}>
          {`Off its plan by ${percent(data.off.median)} of the picture’s width, at most ${percent(data.off.most)}.${
            data.off.median > 0.02 ? ' If this stays so, the head profile does not fit this camera.' : ''
          }`}
        </Words>
      ) : null}
      <Words size={12} tone="mist">
        Thin: planned. Bright: measured.
      </Words>
    </View>
  )
}

const AXES = [
  { axis: 'panDeg', label: 'Pan', unit: '°' },
  { axis: 'tiltDeg', label: 'Tilt', unit: '°' },
  { axis: 'zoom', label: 'Zoom', unit: '' },
] as const

interface ChartsProps {
  planned: readonly MovePoint[]
  measured: readonly MovePoint[]
  seconds: number
}

function AxisCharts({ planned, measured, seconds }: ChartsProps) {
  return (
    <View style={styles.charts}>
      {AXES.map(({ axis, label, unit }) => {
        const all = [...planned, ...measured].map((p) => p[axis])
        const [low, high] = [Math.min(...all), Math.max(...all)]
        const span = Math.max(high - low, axis === 'zoom' ? 0.05 : 0.5)
        const place = (p: MovePoint) =>
          `${((p.s / seconds) * WIDTH).toFixed(1)},${(CHART - 4 - ((p[axis] - low) / span) * (CHART - 8)).toFixed(1)}`
        const said =
          axis === 'zoom'
            ? `${(Math.exp(planned.at(-1)!.zoom - planned[0]!.zoom)).toFixed(2)}×`
            : `${(planned.at(-1)![axis] - planned[0]![axis]).toFixed(1)}${unit}`
        return (
          <View key={axis}>
            <Words size={12} tone="mist">
              {`${label} ${said}`}
            </Words>
            <Svg width={WIDTH} height={CHART}>
              <Line x1={0} y1={CHART - 1} x2={WIDTH} y2={CHART - 1} stroke={TONES.line} />
              <Polyline
                points={planned.map(place).join(' ')}
                stroke={measured.length > 0 ? TONES.mist : TONES.heron}
                strokeWidth={measured.length > 0 ? 1 : 2}
                fill="none"
              />
              {measured.length > 0 ? (
                <Polyline
                  points={measured.map(place).join(' ')}
                  stroke={TONES.heron}
                  strokeWidth={2}
                  fill="none"
                />
              ) : null}
            </Svg>
          </View>
        )
      })}
    </View>
  )
}

const styles = StyleSheet.create({
  box: {
    gap: 6,
    padding: 10,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.line,
    maxWidth: WIDTH + 24,
  },
  key: { alignSelf: 'flex-start' },
  charts: { gap: 6 },
})
