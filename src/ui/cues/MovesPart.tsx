/** Recorded moves: recorded while a hand drives, drawn, played at another pace, backwards, or again and again. */
import { useMemo, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import Svg, { Path, Polyline } from 'react-native-svg'
import { pathHill } from '../../core/cues/lengths'
import {
  curveAt,
  offFrom,
  replayOf,
  simplified,
  smoothed,
  trimmed,
  USUAL_TOLERANCE,
} from '../../core/cues/recorded'
import type { Part } from '../../core/cues/show'
import { worldFrom } from '../../core/cues/worldFrom'
import { zoomOf } from '../../core/motion/follow/followMove'
import { pathSeen } from '../../core/motion/follow/pathSeen'
import { sightOf } from '../../core/optics/sight'
import { aimed } from '../../core/presets/pose'
import { NO_LIMITS } from '../../core/stick/speeds'
import type { DeskView } from '../../server/api'
import { cancelRecording, keepRecording, playMove, startRecording, stopMove } from '../api/client'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { useFactValue } from '../live/useFactValue'
import { MovePath } from '../presets/MovePath'
import { ListCard } from '../setup/ListCard'
import { TONES } from '../theme/tones'
import { change, dataOf, remove } from './edit'
import { NumberField } from './NumberField'
import { hillPath } from './timelineScale'
import { useShow } from './useShow'
import { secondsText } from './words'

const WIDTH = 300
const HILL = 44
const AXIS = 40
const SMOOTH = [
  { value: 0, label: 'As it is' },
  { value: 0.3, label: 'A little' },
  { value: 0.8, label: 'More' },
  { value: 1.6, label: 'Much' },
] as const
const PACES = [25, 50, 80, 100, 150, 200, 400] as const
const percent = (share: number) => `${(share * 100).toFixed(2)} %`

export function MovesPart({ desk }: { desk: DeskView }) {
  const show = useShow()
  const [camera, setCamera] = useState(desk.cameras[0]?.id ?? '')
  const [name, setName] = useState('')
  const [open, setOpen] = useState<string | null>(null)
  const recording = show.recordings.find((one) => one.camera === camera)
  const { moves } = desk.show
  const shown = moves.find(({ id }) => id === open)
  const keep = async () => {
    if (!(await told(() => keepRecording(camera, name.trim() || `Move ${moves.length + 1}`)))) return
    setName('')
    note('The move is kept.')
  }
  return (
    <View style={styles.part}>
      <Words size={17} weight="bold">
        Recorded moves
      </Words>
      <Words size={14} tone="mist">
        Start the recording, drive the camera by hand on the Desk, then come back and keep it.
      </Words>
      <Choice
        label="Camera"
        options={desk.cameras.map(({ id, number, name: label }) => ({
          value: id,
          label: `${number} ${label}`,
        }))}
        value={camera}
        onChange={(id) => setCamera(id)}
        testID="record-camera"
      />
      {recording ? (
        <View style={styles.row}>
          <Words weight="semiBold" testID="recording">
            {`● recording, ${secondsText(recording.intoMs / 1000)}`}
          </Words>
          <Field
            label="Name"
            value={name}
            maxLength={60}
            placeholder={`Move ${moves.length + 1}`}
            onChangeText={setName}
            testID="move-name"
          />
          <Key label="Keep" tone="filled" onPress={() => void keep()} testID="keep-move" />
          <Key label="Drop it" onPress={() => void told(() => cancelRecording(camera))} />
        </View>
      ) : (
        <Key
          label="Record a move"
          onPress={() => void told(() => startRecording(camera))}
          style={styles.key}
          testID="record-move"
        />
      )}
      {moves.map((move) => {
        const now = show.replays.find((one) => one.move === move.id)
        const of = desk.cameras.find(({ id }) => id === move.camera)
        const length = secondsText(move.points.at(-1)?.s ?? 0)
        const about = [of ? `${of.number} ${of.name}` : 'camera that is gone', length]
        if (now) about.push(now.state === 'playing' ? 'plays' : 'goes to its beginning')
        return (
          <ListCard
            key={move.id}
            name={move.name}
            about={about.join(' · ')}
            open={false}
            testID={`move-${move.name}`}
          >
            {now ? (
              <Key label="Stop" onPress={() => void told(() => stopMove(move.id))} />
            ) : (
              <Key
                label="Play"
                tone="filled"
                onPress={() =>
                  void told(() => playMove(move.id, { percent: 100, backwards: false, times: 1 }))
                }
                testID="play-move"
              />
            )}
            <Key label="Open" onPress={() => setOpen(move.id)} testID="open-move" />
            <Key label="Remove" onPress={() => void remove('move', move)} />
          </ListCard>
        )
      })}
      {shown ? (
        <MoveSheet
          key={`${shown.id}${shown.version}`}
          desk={desk}
          move={shown}
          onClose={() => setOpen(null)}
        />
      ) : null}
    </View>
  )
}

function MoveSheet({ desk, move, onClose }: { desk: DeskView; move: Part<'move'>; onClose(): void }) {
  const end = move.points.at(-1)!.s
  const [from, setFrom] = useState(0)
  const [to, setTo] = useState(Math.round(end * 10) / 10)
  const [name, setName] = useState(move.name)
  const [pace, setPace] = useState(100)
  const [backwards, setBackwards] = useState(false)
  const [again, setAgain] = useState(false)
  const [smooth, setSmooth] = useState(0)
  const camera = worldFrom(desk).camera(move.camera)
  const view = desk.cameras.find(({ id }) => id === move.camera)
  const hill = camera ? pathHill(camera, move.points, 48) : []
  const now = useFactValue('pose', move.camera, (pose) => aimed(pose), 500)
  const path = useMemo(() => {
    if (!camera || !view) return null
    const { profile, lens: of } = camera
    const sight = sightOf({
      profile,
      lens: of,
      mount: view.mount,
      limits: view.limits ?? NO_LIMITS,
      digital: true,
    })
    const viewAt = (panDeg: number, tiltDeg: number, log: number) =>
      sight.view({ panDeg, tiltDeg, zoom: zoomOf(of, log) })
    const seen = now ? sight.view(now) : null
    return pathSeen(replayOf(move.points, of, { percent: 100, backwards: false }), viewAt, 48, seen)
  }, [camera, view, move.points, now])
  const lens = camera?.lens
  const shaped = useMemo(() => {
    if (!lens) return { points: move.points, off: null }
    const cut = from > 0 || to < end - 0.05 ? trimmed(move.points, from, Math.min(to, end)) : move.points
    if (smooth === 0) return { points: cut, off: null }
    const at = curveAt(cut)
    const length = cut.at(-1)!.s
    const even = Array.from({ length: Math.floor(length * 25) + 1 }, (_, i) => ({ s: i / 25, ...at(i / 25) }))
    const points = simplified(lens, smoothed(even, smooth), USUAL_TOLERANCE)
    return { points, off: offFrom(lens, even, points) }
  }, [lens, move.points, from, to, end, smooth])
  const keep = async () => {
    const cut = from > 0 || to < end - 0.05
    const { points, off } = shaped
    if (
      await change('move', move, {
        ...dataOf<'move'>(move),
        name: name.trim() || move.name,
        points,
        off: cut || !off ? move.off : off,
      })
    )
      onClose()
  }
  const line = (axis: 'panDeg' | 'tiltDeg' | 'zoom') => {
    const values = move.points.map((p) => p[axis])
    const [low, high] = [Math.min(...values), Math.max(...values)]
    const span = Math.max(high - low, 1e-6)
    return move.points
      .map(
        (p) =>
          `${((p.s / end) * WIDTH).toFixed(1)},${(AXIS - 3 - ((p[axis] - low) / span) * (AXIS - 6)).toFixed(1)}`,
      )
      .join(' ')
  }
  return (
    <Sheet
      title={move.name}
      onClose={onClose}
      testID="move-sheet"
      foot={
        <>
          <Key
            label="Play"
            tone="filled"
            onPress={() =>
              void told(() => playMove(move.id, { percent: pace, backwards, times: again ? 0 : 1 }))
            }
          />
          <Key label="Stop" onPress={() => void told(() => stopMove(move.id))} />
          <Key
            label="Keep"
            disabled={to <= from + 0.2}
            onPress={() => void keep()}
            testID="keep-move-change"
          />
        </>
      }
    >
      {path && view && view.picture.kind !== 'none' ? (
        <>
          <MovePath camera={move.camera} path={path} width={WIDTH} />
          <Words size={12} tone="mist">
            Its way over the live picture, as far as it is in it, and the frame at its end.
          </Words>
        </>
      ) : null}
      <Svg width={WIDTH} height={HILL} accessibilityLabel="Speed on the screen over time">
        <Path
          d={hillPath(hill, WIDTH, HILL, Math.max(1e-6, ...hill))}
          fill={TONES.heronFilled}
          stroke={TONES.heron}
          strokeWidth={1.5}
        />
      </Svg>
      {(
        [
          ['panDeg', 'Pan'],
          ['tiltDeg', 'Tilt'],
          ['zoom', 'Zoom'],
        ] as const
      ).map(([axis, label]) => (
        <View key={axis}>
          <Words size={12} tone="mist">
            {label}
          </Words>
          <Svg width={WIDTH} height={AXIS}>
            <Polyline points={line(axis)} stroke={TONES.heron} strokeWidth={2} fill="none" />
          </Svg>
        </View>
      ))}
      <Words size={13} tone="mist">
        {move.off
          ? `${move.points.length} points. Off what was recorded by ${percent(move.off.median)} of the picture’s width, at most ${percent(move.off.most)}.`
          : `${move.points.length} points.`}
      </Words>
      <Field label="Name" value={name} maxLength={60} onChangeText={setName} />
      <View style={styles.row}>
        <NumberField label="Begins at, seconds" value={from} least={0} most={end} onChange={setFrom} />
        <NumberField
          label="Ends at, seconds"
          value={to}
          least={0}
          most={Math.ceil(end * 10) / 10}
          onChange={setTo}
        />
      </View>
      <Choice
        label="Smoother"
        options={SMOOTH}
        value={smooth}
        onChange={(value) => setSmooth(value)}
        testID="move-smooth"
      />
      {shaped.off ? (
        <Words size={13} tone="mist">
          {`Kept so, it is off what it was by ${percent(shaped.off.median)} of the picture’s width, at most ${percent(shaped.off.most)}, with ${shaped.points.length} points.`}
        </Words>
      ) : null}
      <Choice
        label="Pace"
        options={PACES.map((value) => ({ value, label: `${value} %` }))}
        value={pace}
        onChange={(value) => setPace(value)}
      />
      <Toggle label="Backwards" value={backwards} onChange={setBackwards} />
      <Toggle label="Again and again" value={again} onChange={setAgain} />
    </Sheet>
  )
}

const styles = StyleSheet.create({
  part: { gap: 10, paddingTop: 14 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10, alignItems: 'flex-end' },
  key: { alignSelf: 'flex-start' },
})
