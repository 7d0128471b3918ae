/** What is drawn on the plan. Sizes are given in pixels of the screen, as `px` of the drawing each. */
import type { Sight } from '../../../core/optics/sight'
import { panTiltOf } from '../../../core/optics/sphere'
import { aimed } from '../../../core/presets/pose'
import { lengthOf, minus, wayOf } from '../../../core/room/placed'
import type { Spread } from '../../../core/room/planned'
import type { PlacedCamera, RoomSolved } from '../../../core/room/room'
import { inSight } from '../../../core/room/surface'
import type { Px } from '../../../core/survey/map'
import type { CameraView, PresetView } from '../../../server/api'
import { usePose } from '../../desk/useCamera'
import { useTally } from '../../tally/useTally'
import { TONES } from '../../theme/tones'

const RAD = Math.PI / 180

interface Wedge {
  drawing: Spread
  placed: PlacedCamera
  sight: Sight
  pose: { panDeg: number; tiltDeg: number; zoom: number }
  /** How far it is drawn, in the room's units. */
  far: number
}

/** What a camera sees at a pose, from above: two edges and an end. */
function wedgeOf({ drawing, placed, sight, pose, far }: Wedge): { path: string; end: Px } {
  const { panDeg, tiltDeg, hfovDeg } = sight.view(pose)
  const heading = panTiltOf(wayOf(placed, { panDeg, tiltDeg })).panDeg
  const [x, , z] = placed.at
  const at = (deg: number) =>
    drawing.toPx(x + far * Math.sin((heading + deg) * RAD), z + far * Math.cos((heading + deg) * RAD))
  const [from, left, end, right] = [drawing.toPx(x, z), at(-hfovDeg / 2), at(0), at(hfovDeg / 2)]
  const point = (p: Px) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`
  return { path: `M${point(from)}L${point(left)}L${point(right)}Z`, end }
}

interface PlanCameraProps {
  drawing: Spread
  solved: RoomSolved
  placed: PlacedCamera
  sight: Sight
  view: CameraView
  chosen: boolean
  px: number
}

export function PlanCamera({ drawing, solved, placed, sight, view, chosen, px }: PlanCameraProps) {
  const pose = aimed(usePose(view.id))
  const tally = useTally(view.id)
  const tone =
    tally === 'program' ? TONES.air : tally === 'preview' ? TONES.preview : chosen ? TONES.sand : TONES.mist
  const word = tally === 'program' ? ' on air' : tally === 'preview' ? ' preview' : ''
  const here = drawing.toPx(placed.at[0], placed.at[2])
  const sees = pose ? inSight(solved, placed, sight.view(pose)) : null
  const far = sees ? lengthOf(minus(sees, placed.at)) : 0
  return (
    <g
      data-testid={`plan-camera-${view.number}`}
      data-x={placed.at[0].toFixed(2)}
      data-z={placed.at[2].toFixed(2)}
    >
      {pose && far > 0 ? (
        <path
          d={wedgeOf({ drawing, placed, sight, pose, far }).path}
          fill={tone}
          fillOpacity={0.14}
          stroke={tone}
          strokeWidth={1.5 * px}
        />
      ) : null}
      <circle cx={here.x} cy={here.y} r={14 * px} fill={TONES.ink} stroke={tone} strokeWidth={2.5 * px} />
      <text
        x={here.x}
        y={here.y + 5 * px}
        fontSize={15 * px}
        fontWeight={700}
        fill={tone}
        textAnchor="middle"
      >
        {view.number}
      </text>
      <text x={here.x} y={here.y + 30 * px} fontSize={13 * px} fill={tone} textAnchor="middle">
        {view.name}
        {word}
      </text>
    </g>
  )
}

interface PlanPresetsProps extends Omit<PlanCameraProps, 'view' | 'chosen'> {
  presets: readonly PresetView[]
}

/** The presets of a camera as cones. */
export function PlanPresets({ drawing, solved, placed, sight, presets, px }: PlanPresetsProps) {
  return (
    <g data-testid="plan-presets">
      {presets.map((preset) => {
        const pose = aimed(preset.pose)
        const place = pose ? inSight(solved, placed, sight.view(pose)) : null
        if (!pose || !place) return null
        const { path, end } = wedgeOf({
          drawing,
          placed,
          sight,
          pose,
          far: lengthOf(minus(place, placed.at)),
        })
        return (
          <g key={preset.id}>
            <path
              d={path}
              fill={TONES.heron}
              fillOpacity={0.06}
              stroke={TONES.heron}
              strokeOpacity={0.6}
              strokeWidth={px}
            />
            <text x={end.x} y={end.y - 4 * px} fontSize={12 * px} fill={TONES.heron} textAnchor="middle">
              {preset.number}
            </text>
          </g>
        )
      })}
    </g>
  )
}

export function PlanPoints({
  drawing,
  solved,
  names,
  px,
}: {
  drawing: Spread
  solved: RoomSolved
  names: ReadonlyMap<string, string>
  px: number
}) {
  return (
    <g data-testid="plan-points">
      {solved.points.map(({ pointId, at }) => {
        const { x, y } = drawing.toPx(at[0], at[2])
        return (
          <g key={pointId} data-testid={`plan-point-${names.get(pointId)}`}>
            <circle cx={x} cy={y} r={4 * px} fill={TONES.sand} />
            <text x={x + 8 * px} y={y + 4 * px} fontSize={12 * px} fill={TONES.sand}>
              {names.get(pointId)}
            </text>
          </g>
        )
      })}
    </g>
  )
}

/** Something chosen on the plan. */
export function PlanCross({ at, px }: { at: Px; px: number }) {
  return (
    <path
      d={`M${at.x - 12 * px} ${at.y}h${24 * px}M${at.x} ${at.y - 12 * px}v${24 * px}`}
      stroke={TONES.sand}
      strokeWidth={2.5 * px}
      data-testid="plan-cross"
    />
  )
}
