/** What is drawn on the map: presets' frames, limits, where the camera looks and where it travels to. */
import { memo, useMemo } from 'react'
import type { PanTilt } from '../../core/optics/aim'
import { vfovOf } from '../../core/optics/lens'
import { aimed } from '../../core/presets/pose'
import { frameOn, type Px, type SurveyMap, toPx } from '../../core/survey/map'
import type { Seat } from '../../core/survey/seatGrid'
import type { PresetView } from '../../server/api'
import { type DeskCamera, usePose } from '../desk/useCamera'
import { useFact } from '../live/hooks'
import { TONES } from '../theme/tones'

export const pathOf = (points: readonly Px[]): string =>
  `M${points.map(({ x, y }) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}Z`

export interface DrawnPreset {
  preset: PresetView
  points: readonly Px[]
  /** Where its label stands: its upper left corner. */
  corner: Px
}

export function drawnPresets(
  map: SurveyMap,
  { sight }: Pick<DeskCamera, 'sight'>,
  presets: readonly PresetView[],
): DrawnPreset[] {
  return presets.flatMap((preset) => {
    const pose = aimed(preset.pose)
    if (!pose) return []
    const points = frameOn(map, sight.view(pose))
    return [{ preset, points, corner: points[0]! }]
  })
}

interface PresetFramesProps {
  drawn: readonly DrawnPreset[]
  /** Of the map on the screen: lines stay as thin however close one is. */
  scale: number
}

export const PresetFrames = memo(function PresetFrames({ drawn, scale }: PresetFramesProps) {
  return (
    <g fill="none" stroke={TONES.heron} strokeWidth={1.6 / scale} data-testid="preset-frames">
      {drawn.map(({ preset, points }) => (
        <path key={preset.id} d={pathOf(points)} data-testid={`frame-${preset.number}`} />
      ))}
    </g>
  )
})

export const LimitLines = memo(function LimitLines({
  map,
  camera,
  scale,
}: {
  map: SurveyMap
  camera: DeskCamera
  scale: number
}) {
  const { pan, tilt } = camera.sight.seen
  const [a, b] = [
    toPx(map, { panDeg: pan.minDeg, tiltDeg: tilt.maxDeg }),
    toPx(map, { panDeg: pan.maxDeg, tiltDeg: tilt.minDeg }),
  ]
  return (
    <rect
      x={a.x}
      y={a.y}
      width={b.x - a.x}
      height={b.y - a.y}
      fill="none"
      stroke={TONES.clay}
      strokeDasharray={`${8 / scale} ${7 / scale}`}
      strokeWidth={1.5 / scale}
      data-testid="limits"
    />
  )
})

/** Where the camera looks now, and where it is going. */
export function LiveFrame({
  map,
  camera,
  scale,
  tone,
  presets,
}: {
  map: SurveyMap
  camera: DeskCamera
  scale: number
  tone: string
  presets: readonly PresetView[]
}) {
  const pose = aimed(usePose(camera.view.id))
  const travel = useFact('travel', camera.view.id)
  const target = travel?.state === 'travelling' ? presets.find(({ id }) => id === travel.presetId) : undefined
  const goal = useMemo(() => aimed(target?.pose ?? null), [target])
  if (!pose) return null
  const view = camera.sight.view(pose)
  const from = toPx(map, view)
  const to = goal ? toPx(map, camera.sight.view(goal)) : null
  return (
    <g fill="none">
      <path
        d={pathOf(frameOn(map, view))}
        stroke={tone}
        strokeWidth={3 / scale}
        strokeLinejoin="round"
        data-testid="live-frame"
        data-pan={view.panDeg.toFixed(2)}
        data-tilt={view.tiltDeg.toFixed(2)}
      />
      {to ? (
        <>
          <line
            x1={from.x}
            y1={from.y}
            x2={to.x}
            y2={to.y}
            stroke={TONES.sand}
            strokeDasharray={`${5 / scale} ${5 / scale}`}
            strokeWidth={1.2 / scale}
          />
          <circle cx={to.x} cy={to.y} r={4 / scale} fill={TONES.sand} data-testid="travel-goal" />
        </>
      ) : null}
    </g>
  )
}

/** A seat grid in the making: its corners, and the frame of each seat. */
export function GridFrames({
  map,
  camera,
  scale,
  corners,
  seats,
}: {
  map: SurveyMap
  camera: DeskCamera
  scale: number
  corners: readonly (PanTilt | null)[]
  seats: readonly Seat[]
}) {
  const { aspect } = camera.profile.lens
  return (
    <g fill="none" stroke={TONES.sand} strokeWidth={1.2 / scale} data-testid="grid-frames">
      {seats.map((seat) => (
        <path key={seat.label} d={pathOf(frameOn(map, { ...seat, vfovDeg: vfovOf(seat.hfovDeg, aspect) }))} />
      ))}
      {corners.map((corner, i) => {
        if (!corner) return null
        const { x, y } = toPx(map, corner)
        return (
          <g key={i}>
            <circle cx={x} cy={y} r={11 / scale} fill={TONES.ink} strokeWidth={2 / scale} />
            <text
              x={x}
              y={y + 5 / scale}
              fontSize={14 / scale}
              fill={TONES.sand}
              stroke="none"
              textAnchor="middle"
            >
              {i + 1}
            </text>
          </g>
        )
      })}
    </g>
  )
}
