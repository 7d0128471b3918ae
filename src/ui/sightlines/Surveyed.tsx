/** The map of a camera's survey with its tools: aim, frame, store, seat grid, and the room's points. */
import { type ReactNode, useState } from 'react'
import { type LayoutChangeEvent, StyleSheet, useWindowDimensions, View } from 'react-native'
import type { PanTilt } from '../../core/optics/aim'
import type { Vec3 } from '../../core/optics/sphere'
import type { Pace } from '../../core/presets/pace'
import { inSight } from '../../core/room/surface'
import type { Framing } from '../../core/survey/handles'
import { type Px, toPanTilt, viewOfBox } from '../../core/survey/map'
import type { SurveyView } from '../../core/survey/surveys'
import type { DeskView, PresetView } from '../../server/api'
import { backToVersion, reframePreset, storeFromSurvey } from '../api/client'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import type { DeskCamera } from '../desk/useCamera'
import { useMay } from '../people/me'
import { nextToolPace, paceWords } from '../picture/tools'
import { order, recall } from '../presets/actions'
import { TONES, WIDE_FROM } from '../theme/tones'
import { GridPanel } from './GridPanel'
import { GridFrames } from './MapFrames'
import { type MapBox, MapView } from './MapView'
import { PointMarks } from './room/PointMarks'
import type { RoomSeen } from './room/roomSeen'
import { ShowingList } from './room/ShowingList'
import { openRoom, useRoomMode } from './room/useRoom'
import { useSights } from './room/useSights'
import { useGrid } from './useGrid'
import { LOW_BELOW, type Size } from './viewport'

type Tool = 'aim' | 'frame' | 'store' | 'change'
const TOOLS: readonly { tool: Tool; label: string; how: string }[] = [
  { tool: 'aim', label: 'Aim', how: 'Touch what is to be in the middle. Drag to look around.' },
  { tool: 'frame', label: 'Frame', how: 'Draw a box: the camera fills its picture with it.' },
  {
    tool: 'store',
    label: 'Store from a box',
    how: 'Draw a box: it becomes a preset. The camera does not move.',
  },
  {
    tool: 'change',
    label: 'Change frames',
    how: 'Touch a preset’s name, then drag its middle or its corner. The camera does not move.',
  },
]

const SHORT: Partial<Record<Tool, string>> = { store: 'Store', change: 'Change' }

export const RENEW = 'Draw a box round what has changed: it is photographed again.'

interface SurveyedProps {
  desk: DeskView
  camera: DeskCamera
  survey: SurveyView
  size: Size | null
  onLayout(event: LayoutChangeEvent): void
  room: RoomSeen | undefined
  /** The room's points, while they are touched. */
  points: ReactNode
  onMark(at: PanTilt): void
  /** Null: it may not be taken again now. */
  onAgain: (() => void) | null
  /** The next box is what is to be renewed. */
  renewing: boolean
  onRenewed(): void
}

const NONE: readonly PresetView[] = []

export function Surveyed({ desk, camera, survey, size, onLayout, ...props }: SurveyedProps) {
  const { onAgain, renewing, onRenewed, room, points, onMark } = props
  const { width, height } = useWindowDimensions()
  const [tool, setTool] = useState<Tool>('aim')
  const [pace, setPace] = useState<Pace | null>(null)
  const mayDrive = useMay('drive')
  const mayStore = useMay('store')
  const { view, lens, sight } = camera
  const presets = desk.presets.filter((p) => p.cameraId === view.id)
  const grid = useGrid(view.id)
  const sights = useSights(desk, room?.solved ?? null)
  const placed = room?.solved?.cameras.find(({ cameraId }) => cameraId === view.id)
  const { point } = useRoomMode()
  const [changing, setChanging] = useState<string | null>(null)
  const boxed = tool === 'frame' || tool === 'store'
  /** What was touched last, where the room is known. */
  const [place, setPlace] = useState<Vec3 | null>(null)
  const tools = TOOLS.filter(({ tool: one }) => (one === 'store' || one === 'change' ? mayStore : mayDrive))
  const go = (at: { panDeg: number; tiltDeg: number }, zoom: number | null) =>
    void order({
      ...{ t: 'goToPose', camera: view.id, pace },
      pose: { ...sight.turned(at), zoom, focusAuto: null, focus: null, encoder: null },
    })
  const onPlace = (at: Px) => {
    const to = toPanTilt(survey.map, at)
    if (points) {
      if (point) onMark(to)
    } else if (grid.open) grid.touch(to)
    else if (tool === 'aim') {
      setPlace(room?.solved && placed ? inSight(room.solved, placed, to) : null)
      if (mayDrive) go(to, null)
    }
  }
  const onBox = async ({ a, b }: MapBox) => {
    if (renewing) {
      onRenewed()
      const [p, q] = [toPanTilt(survey.map, a), toPanTilt(survey.map, b)]
      const span = (x: number, y: number) => ({ minDeg: Math.min(x, y), maxDeg: Math.max(x, y) })
      const part = { pan: span(p.panDeg, q.panDeg), tilt: span(p.tiltDeg, q.tiltDeg) }
      await order({ t: 'startRound', camera: view.id, round: { kind: 'survey', part } })
      return
    }
    const wanted = viewOfBox(survey.map, a, b, camera.profile.lens.aspect)
    if (tool === 'frame') return go(wanted, lens.zoomForHfov(wanted.hfovDeg))
    const { panDeg, tiltDeg, hfovDeg } = wanted
    await told(async () => {
      const { number } = await storeFromSurvey(survey.id, { panDeg, tiltDeg, hfovDeg })
      note(`Stored as preset ${number}. Its picture is from the survey until the camera has been there.`)
    })
  }
  const reframe = async (preset: string, { panDeg, tiltDeg, hfovDeg }: Framing) => {
    const done = await told(() => reframePreset(survey.id, preset, { panDeg, tiltDeg, hfovDeg }))
    if (done)
      note('Changed. Its picture is from the survey until the camera has been there.', {
        actions: [{ label: 'Undo', act: () => void told(() => backToVersion(preset, done.former)) }],
      })
    return done !== null
  }
  const taken = new Date(survey.takenAt)
  const narrow = width < 560
  const beside = width >= WIDE_FROM || height < LOW_BELOW
  return (
    <>
      <View style={beside ? styles.beside : styles.stacked}>
        <View style={styles.map} onLayout={onLayout}>
          {size ? (
            <MapView
              {...{ survey, camera, size }}
              presets={points ? NONE : presets}
              boxes={renewing || (boxed && !grid.open && !points)}
              through={renewing || boxed || grid.open || points !== null}
              onPlace={onPlace}
              onBox={(box) => void onBox(box)}
              onPreset={(id) => (tool === 'change' ? setChanging(id) : void recall(id))}
              {...(tool === 'change' ? { changing, onFraming: reframe } : {})}
              further={
                points && room
                  ? (scale) => (
                      <PointMarks {...{ map: survey.map, camera: view.id, room, chosen: point, scale }} />
                    )
                  : grid.open
                    ? (scale) => (
                        <GridFrames
                          {...{ map: survey.map, camera, scale, corners: grid.corners }}
                          seats={grid.seats ?? []}
                        />
                      )
                    : undefined
              }
            />
          ) : null}
        </View>
        {points ? (
          <View style={beside ? styles.side : styles.under}>{points}</View>
        ) : grid.open ? (
          <View style={beside ? styles.side : styles.under}>
            <GridPanel
              {...{ form: grid.form, onForm: grid.setForm, corners: grid.corners, corner: grid.corner }}
              {...{ onCorner: grid.setCorner, seats: grid.seats, problem: grid.problem }}
              onTry={(seat) => go(seat, lens.zoomForHfov(seat.hfovDeg))}
              onMake={() => void (grid.changing ? grid.move() : grid.make())}
              {...{ grids: grid.grids, changing: grid.changing, onBegin: grid.begin }}
              onClose={() => grid.setOpen(false)}
            />
          </View>
        ) : null}
      </View>
      {place && room?.solved && !points && !grid.open ? (
        <ShowingList {...{ desk, solved: room.solved, sights, place, reference: view.id, pace }} others />
      ) : null}
      {points || (grid.open && (narrow || height < LOW_BELOW)) ? null : (
        <View style={styles.tools}>
          {tools.map(({ tool: one, label }) => (
            <Key
              key={one}
              label={narrow ? (SHORT[one] ?? label) : label}
              on={one === tool && !renewing}
              onPress={() => {
                setTool(one)
                onRenewed()
              }}
              style={styles.tool}
              testID={`sight-${one}`}
            />
          ))}
          {mayDrive ? (
            <Key
              label={narrow ? paceWords(pace) : `Pace: ${paceWords(pace)}`}
              description={`Of aim and frame. Press for ${paceWords(nextToolPace(pace))}.`}
              onPress={() => setPace(nextToolPace(pace))}
              style={styles.tool}
              testID="sight-pace"
            />
          ) : null}
          {height > 420 || !narrow ? (
            <Words size={13} tone="mist" style={styles.how} testID="survey-about">
              {renewing ? RENEW : TOOLS.find((one) => one.tool === tool)?.how} Surveyed{' '}
              {taken.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}, {survey.pictures}{' '}
              pictures.
            </Words>
          ) : null}
          {mayStore ? (
            <Key
              label={narrow ? 'Seats' : 'Seat grid'}
              on={grid.open}
              onPress={() => grid.setOpen(!grid.open)}
              style={styles.tool}
              testID="seat-grid"
            />
          ) : null}
          {room ? (
            <Key
              label={narrow ? 'Room' : 'The room'}
              on={points !== null}
              onPress={() => openRoom(points ? 'none' : room?.solved ? 'plan' : mayStore ? 'points' : 'plan')}
              style={styles.tool}
              testID="open-room"
            />
          ) : null}
          {onAgain ? (
            <Key
              label={narrow ? 'Again' : 'Survey again'}
              disabled={!camera.enabled}
              onPress={onAgain}
              style={styles.tool}
              testID="survey-again"
            />
          ) : null}
        </View>
      )}
    </>
  )
}

const styles = StyleSheet.create({
  map: { flex: 1, minHeight: 0, marginHorizontal: 8, marginTop: 4 },
  beside: { flex: 1, minHeight: 0, flexDirection: 'row' },
  stacked: { flex: 1, minHeight: 0 },
  side: { width: 330, borderLeftWidth: 1, borderLeftColor: TONES.line },
  under: { height: '48%', borderTopWidth: 1, borderTopColor: TONES.line },
  tools: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 6, padding: 8 },
  tool: { paddingHorizontal: 10 },
  how: { flex: 1, minWidth: 160 },
})
