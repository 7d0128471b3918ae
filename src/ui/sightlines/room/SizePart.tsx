/** One length that somebody has measured gives the whole room its size. */
import { useState } from 'react'
import { View } from 'react-native'
import type { Length, Spot } from '../../../core/room/room'
import type { CameraView } from '../../../server/api'
import { Choice } from '../../basics/Choice'
import { Field } from '../../basics/Field'
import { Key } from '../../basics/Key'
import { Toggle } from '../../basics/Toggle'
import { Words } from '../../basics/Words'
import type { RoomSeen } from './roomSeen'
import { changeRoom } from './useRoom'

export const spotKey = ({ kind, id }: Spot) => `${kind} ${id}`

/** Cameras and points that are placed, as a choice. */
export function spotsOf(
  { solved, points }: RoomSeen,
  cameras: readonly CameraView[],
): { spot: Spot; value: string; label: string }[] {
  const of = (spot: Spot, label: string) => ({ spot, value: spotKey(spot), label })
  return [
    ...(solved?.cameras ?? []).flatMap(({ cameraId }) => {
      const camera = cameras.find(({ id }) => id === cameraId)
      return camera ? [of({ kind: 'camera', id: cameraId }, `Camera ${camera.number}`)] : []
    }),
    ...points.flatMap(({ id, name }, i) =>
      solved?.points.some(({ pointId }) => pointId === id)
        ? [of({ kind: 'point', id }, name ? `${i + 1} ${name}` : `Point ${i + 1}`)]
        : [],
    ),
  ]
}

interface SizePartProps {
  event: string
  cameras: readonly CameraView[]
  room: RoomSeen
}

export function SizePart({ event, cameras, room }: SizePartProps) {
  const spots = spotsOf(room, cameras)
  const { length } = room
  const [from, setFrom] = useState(length ? spotKey(length.from) : '')
  const [to, setTo] = useState(length ? spotKey(length.to) : '')
  const [metres, setMetres] = useState(length ? String(length.metres) : '')
  const [upright, setUpright] = useState(length?.upright ?? false)
  const far = Number(metres.replace(',', '.'))
  const [a, b] = [from, to].map((key) => spots.find(({ value }) => value === key)?.spot)
  const whole: Length | null =
    a && b && from !== to && far > 0 && far <= 1000 ? { from: a, to: b, metres: far, upright } : null
  return (
    <View style={{ gap: 8 }}>
      <Words size={14} tone="mist">
        Measure one length in the room, the longer the better, and give it here: between two points, two
        cameras, or how high a camera hangs above a point.
      </Words>
      <Choice
        label="From"
        options={spots}
        value={from}
        onChange={(next) => setFrom(next)}
        testID="length-from"
      />
      <Choice label="To" options={spots} value={to} onChange={(next) => setTo(next)} testID="length-to" />
      <Field
        label="Metres"
        value={metres}
        onChangeText={setMetres}
        inputMode="decimal"
        problem={metres !== '' && !(far > 0 && far <= 1000) ? 'A length from 0 to 1000 m, as 8.4.' : null}
        testID="length-metres"
      />
      <Toggle label="Only the difference in height" value={upright} onChange={setUpright} />
      <Key
        label="Use this length"
        tone="filled"
        disabled={!whole}
        onPress={() => void changeRoom(event, (kept) => ({ ...kept, length: whole }))}
        testID="use-length"
      />
    </View>
  )
}
