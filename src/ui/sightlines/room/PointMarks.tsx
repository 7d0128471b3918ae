/** The room's points on a camera's Sightlines: where each was touched, and where it is by all the others. */

import { nearTurn } from '../../../core/optics/aim'
import { seenFrom } from '../../../core/room/placed'
import { type SurveyMap, toPanTilt, toPx } from '../../../core/survey/map'
import { FACES, TONES } from '../../theme/tones'
import type { RoomSeen } from './roomSeen'

interface PointMarksProps {
  map: SurveyMap
  camera: string
  room: RoomSeen
  chosen: string | null
  scale: number
}

export function PointMarks({ map, camera, room, chosen, scale }: PointMarksProps) {
  const placed = room.solved?.cameras.find(({ cameraId }) => cameraId === camera)
  const middle = toPanTilt(map, { x: map.width / 2, y: 0 }).panDeg
  return (
    <g fill="none" fontFamily={FACES.semiBold} data-testid="point-marks">
      {room.points.map((point, i) => {
        const mark = point.marks.find(({ cameraId }) => cameraId === camera)
        const solved = room.solved?.points.find(({ pointId }) => pointId === point.id)
        const by = placed && solved ? seenFrom(placed, solved.at) : null
        const at = mark ? toPx(map, { ...mark, panDeg: nearTurn(mark.panDeg, middle) }) : null
        const to = by ? toPx(map, { ...by, panDeg: nearTurn(by.panDeg, middle) }) : null
        const tone = point.id === chosen ? TONES.sand : TONES.heron
        return (
          <g
            key={point.id}
            stroke={tone}
            strokeWidth={2 / scale}
            data-testid={mark ? `mark-${i + 1}` : undefined}
          >
            {to ? (
              <path
                d={`M${to.x - 7 / scale} ${to.y}h${14 / scale}M${to.x} ${to.y - 7 / scale}v${14 / scale}`}
                strokeWidth={1.3 / scale}
              />
            ) : null}
            {at ? (
              <>
                <circle cx={at.x} cy={at.y} r={12 / scale} fill={TONES.ink} fillOpacity={0.75} />
                <text
                  x={at.x}
                  y={at.y + 5 / scale}
                  fontSize={14 / scale}
                  fill={tone}
                  stroke="none"
                  textAnchor="middle"
                >
                  {i + 1}
                </text>
              </>
            ) : null}
          </g>
        )
      })}
    </g>
  )
}
