/** The points of the room: each is touched in several cameras, and so tells where these stand. */
import { ScrollView, StyleSheet, View } from 'react-native'
import { aimed } from '../../../core/presets/pose'
import { LEAST_SHARED, MOST_POINTS } from '../../../core/room/room'
import type { CameraView } from '../../../server/api'
import { Key } from '../../basics/Key'
import { Words } from '../../basics/Words'
import { type DeskCamera, usePose } from '../../desk/useCamera'
import { TONES } from '../../theme/tones'
import { NameField } from './NameField'
import type { RoomSeen } from './roomSeen'
import { roomSays, worstOf } from './says'
import { changeRoom, choosePoint, openRoom, useRoomMode } from './useRoom'

interface PointsPanelProps {
  event: string
  cameras: readonly CameraView[]
  camera: DeskCamera
  room: RoomSeen
  onMark(at: { panDeg: number; tiltDeg: number }): void
}

export function PointsPanel({ event, cameras, camera: desk, room, onMark }: PointsPanelProps) {
  const camera = desk.view
  const pose = aimed(usePose(camera.id))
  const looksAt = pose && desk.sight.turned(pose)
  const { point: chosen } = useRoomMode()
  const numberOf = (id: string) => cameras.find((one) => one.id === id)?.number
  const point = room.points.find(({ id }) => id === chosen)
  const worst = worstOf(room)
  return (
    <View style={styles.panel} testID="points-panel">
      <ScrollView contentContainerStyle={styles.body}>
        <Words size={14} tone="mist" testID="points-say">
          {roomSays(room, cameras)}
        </Words>
        {point ? (
          <>
            <Words size={14} tone="mist" testID="touch-says">
              {`Touch point ${room.points.indexOf(point) + 1} in ${camera.number} ${camera.name}, then choose the next camera above and touch the same there. More exact: aim at it, zoomed in, and press the key below.`}
            </Words>
            <View style={styles.row}>
              <Key
                label="Where it looks now"
                disabled={!looksAt}
                onPress={() => looksAt && onMark(looksAt)}
                style={styles.key}
                testID="mark-here"
              />
              <Key
                label="Remove"
                onPress={() => {
                  choosePoint(null)
                  void changeRoom(event, (kept) => ({
                    ...kept,
                    points: kept.points.filter(({ id }) => id !== point.id),
                  }))
                }}
                testID="remove-point"
              />
            </View>
            <NameField
              key={point.id}
              label="Its name"
              name={point.name}
              onName={(name) =>
                void changeRoom(event, (kept) => ({
                  ...kept,
                  points: kept.points.map((one) => (one.id === point.id ? { ...one, name } : one)),
                }))
              }
            />
          </>
        ) : room.points.length === 0 ? (
          <Words size={14} tone="mist">
            {`Choose things that several cameras see and that stand still: corners of tables, lamps, edges of the stage. At least ${LEAST_SHARED}, better six or more, spread over the whole room and not all at one height.`}
          </Words>
        ) : null}
        {room.points.map((one, i) => {
          const seen = one.marks.flatMap(({ cameraId }) => numberOf(cameraId) ?? []).sort((a, b) => a - b)
          const bad =
            worst?.pointId === one.id
              ? `  △ ${worst.deg.toFixed(1)}° beside in ${numberOf(worst.cameraId)}`
              : ''
          return (
            <Key
              key={one.id}
              label={`${one.name ? `${i + 1} ${one.name}` : `Point ${i + 1}`}: ${seen.length > 0 ? `seen by ${seen.join(', ')}` : 'not touched yet'}${bad}`}
              on={one.id === chosen}
              onPress={() => choosePoint(one.id)}
              testID={`point-${i + 1}`}
            />
          )
        })}
        {room.points.length < MOST_POINTS ? (
          <Key
            label="New point"
            onPress={() => {
              const id = crypto.randomUUID()
              choosePoint(id)
              void changeRoom(event, (kept) => ({
                ...kept,
                points: [...kept.points, { id, name: '', marks: [] }],
              }))
            }}
            testID="new-point"
          />
        ) : null}
      </ScrollView>
      <View style={styles.foot}>
        <Key label="Plan" onPress={() => openRoom('plan')} style={styles.key} testID="open-plan" />
        <Key label="Close" onPress={() => openRoom('none')} testID="close-points" />
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  panel: { flex: 1, minHeight: 0, backgroundColor: TONES.marsh },
  body: { padding: 10, gap: 8 },
  row: { flexDirection: 'row', gap: 8 },
  key: { flex: 1 },
  foot: { flexDirection: 'row', gap: 8, padding: 8, borderTopWidth: 1, borderTopColor: TONES.line },
})
