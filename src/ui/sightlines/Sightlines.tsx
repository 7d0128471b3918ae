/** Sightlines, the place: all that a camera can reach, with every preset's frame where the lens sees it. */
import { useCallback, useEffect, useState } from 'react'
import { type LayoutChangeEvent, StyleSheet, useWindowDimensions, View } from 'react-native'
import useSWR from 'swr'
import type { Pace } from '../../core/presets/pace'
import { type Px, toPanTilt, viewOfBox } from '../../core/survey/map'
import type { SurveyView } from '../../core/survey/surveys'
import type { CameraView, DeskView } from '../../server/api'
import { NoVenue, readSurveys, storeFromSurvey } from '../api/client'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { Notes } from '../basics/Notes'
import { fault, note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { CameraStrip } from '../desk/CameraRail'
import { selectCamera, useSelection } from '../desk/selection'
import { type DeskCamera, useCamera } from '../desk/useCamera'
import { useDesk, useFact } from '../live/hooks'
import { live } from '../live/live'
import { useMay } from '../people/me'
import { nextToolPace, paceWords } from '../picture/tools'
import { Header } from '../places/Header'
import { PlacesBelow, PlacesBeside } from '../places/Places'
import { order, recall } from '../presets/actions'
import { RoundLines } from '../presets/RoundLines'
import FirstVenue from '../setup/FirstVenue'
import { AskBar } from '../tally/AskBar'
import { TONES, WIDE_FROM } from '../theme/tones'
import { GridPanel } from './GridPanel'
import { GridFrames } from './MapFrames'
import { type MapBox, MapView } from './MapView'
import { SurveySheet } from './SurveySheet'
import { useGrid } from './useGrid'
import type { Size } from './viewport'

const LOW_BELOW = 560

type Tool = 'aim' | 'frame' | 'store'
const TOOLS: readonly { tool: Tool; label: string; how: string }[] = [
  { tool: 'aim', label: 'Aim', how: 'Touch what is to be in the middle. Drag to look around.' },
  { tool: 'frame', label: 'Frame', how: 'Draw a box: the camera fills its picture with it.' },
  {
    tool: 'store',
    label: 'Store from a box',
    how: 'Draw a box: it becomes a preset. The camera does not move.',
  },
]

const RENEW = 'Draw a box round what has changed: it is photographed again.'

export default function Sightlines() {
  const { data, error } = useDesk()
  const { width, height } = useWindowDimensions()
  const wide = width >= WIDE_FROM
  const low = height < LOW_BELOW
  const selection = useSelection()
  useEffect(() => {
    live().onNotice = (_camera, text) => fault(text)
  }, [])
  const chosen = data?.cameras.find((c) => c.id === selection.primary)
  const view = chosen ?? data?.cameras.find((c) => c.enabled) ?? data?.cameras[0]
  if (error instanceof NoVenue) return <FirstVenue />
  return (
    <View style={styles.page}>
      <Header event={data?.event.name ?? ''} venue={data?.venue.name ?? ''} wide={wide} slim={low} />
      <View style={styles.main} role="main">
        {low && !wide ? <PlacesBeside /> : null}
        {data && view ? (
          <Place key={view.id} desk={data} view={view} />
        ) : (
          <View style={styles.none}>
            {error ? (
              <Advice title="Sightlines cannot be shown now" text={error.message} />
            ) : (
              <Words tone="mist">{data ? 'Connect a camera in Setup first.' : 'Opening Sightlines…'}</Words>
            )}
          </View>
        )}
      </View>
      {wide || low ? null : <PlacesBelow />}
    </View>
  )
}

function Place({ desk, view }: { desk: DeskView; view: CameraView }) {
  const { width, height } = useWindowDimensions()
  const camera = useCamera(view)
  const round = useFact('round', view.id)
  const { data: surveys, mutate } = useSWR<SurveyView[]>('surveys', readSurveys)
  const mayStore = useMay('store')
  const [asking, setAsking] = useState(false)
  const [renewing, setRenewing] = useState(false)
  const [size, setSize] = useState<Size | null>(null)
  const surveying = round?.kind === 'survey' && round.state === 'running'
  const ended = round?.kind === 'survey' ? round.state : null
  useEffect(() => {
    if (ended === 'finished') void mutate()
  }, [ended, mutate])
  const survey = surveys?.find(({ cameraId }) => cameraId === view.id)
  const onLayout = useCallback(({ nativeEvent: { layout } }: LayoutChangeEvent) => {
    const next = { width: Math.floor(layout.width), height: Math.floor(layout.height) }
    setSize((was) => (was?.width === next.width && was.height === next.height ? was : next))
  }, [])
  return (
    <View style={styles.place}>
      <CameraStrip
        cameras={desk.cameras}
        primary={view.id}
        also={[]}
        adding={false}
        onAdding={() => {}}
        onPress={selectCamera}
        onAll={() => {}}
        compact={height < 700 || width < 360}
      />
      <RoundLines cameras={desk.cameras.filter((c) => c.id === view.id)} surveys />
      <AskBar />
      {survey ? (
        <Surveyed
          {...{ desk, camera, survey, size, onLayout }}
          onAgain={mayStore && !surveying ? () => setAsking(true) : null}
          renewing={renewing}
          onRenewed={() => setRenewing(false)}
        />
      ) : (
        <View style={styles.none} onLayout={onLayout}>
          {surveys ? (
            <>
              <Words size={17} weight="bold">
                {surveying ? 'The camera looks around' : `Nobody knows yet what ${view.name} can reach`}
              </Words>
              <Words size={15} tone="mist" style={styles.about}>
                {surveying
                  ? 'Its pictures are put together when it has taken all of them.'
                  : 'A survey photographs all that this camera can reach. Every preset is then a frame on the room, and choosing a shot is touching the person.'}
              </Words>
              {mayStore && !surveying ? (
                <Key
                  label="Survey"
                  tone="filled"
                  disabled={!camera.enabled}
                  onPress={() => setAsking(true)}
                  testID="survey"
                />
              ) : null}
            </>
          ) : (
            <Words tone="mist">Opening…</Words>
          )}
        </View>
      )}
      {asking ? (
        <SurveySheet
          view={view}
          surveyId={survey?.id ?? null}
          onPart={() => {
            setAsking(false)
            setRenewing(true)
            note(RENEW)
          }}
          onClose={() => setAsking(false)}
        />
      ) : null}
      <View style={styles.notes}>
        <Notes />
      </View>
    </View>
  )
}

interface SurveyedProps {
  desk: DeskView
  camera: DeskCamera
  survey: SurveyView
  size: Size | null
  onLayout(event: LayoutChangeEvent): void
  /** Null: it may not be taken again now. */
  onAgain: (() => void) | null
  /** The next box is what is to be renewed. */
  renewing: boolean
  onRenewed(): void
}

function Surveyed({ desk, camera, survey, size, onLayout, ...props }: SurveyedProps) {
  const { onAgain, renewing, onRenewed } = props
  const { width, height } = useWindowDimensions()
  const [tool, setTool] = useState<Tool>('aim')
  const [pace, setPace] = useState<Pace | null>(null)
  const mayDrive = useMay('drive')
  const mayStore = useMay('store')
  const { view, lens, sight } = camera
  const presets = desk.presets.filter((p) => p.cameraId === view.id)
  const grid = useGrid(view.id)
  const tools = TOOLS.filter(({ tool: one }) => (one === 'store' ? mayStore : mayDrive))
  const go = (at: { panDeg: number; tiltDeg: number }, zoom: number | null) =>
    void order({
      ...{ t: 'goToPose', camera: view.id, pace },
      pose: { ...sight.turned(at), zoom, focusAuto: null, focus: null, encoder: null },
    })
  const onPlace = (at: Px) => {
    if (grid.open) grid.touch(toPanTilt(survey.map, at))
    else if (tool === 'aim' && mayDrive) go(toPanTilt(survey.map, at), null)
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
  const taken = new Date(survey.takenAt)
  const narrow = width < 560
  const beside = width >= WIDE_FROM || height < LOW_BELOW
  return (
    <>
      <View style={beside ? styles.beside : styles.stacked}>
        <View style={styles.map} onLayout={onLayout}>
          {size ? (
            <MapView
              {...{ survey, camera, presets, size }}
              boxes={renewing || (tool !== 'aim' && !grid.open)}
              through={renewing || tool !== 'aim' || grid.open}
              onPlace={onPlace}
              onBox={(box) => void onBox(box)}
              onPreset={(id) => void recall(id)}
              further={
                grid.open
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
        {grid.open ? (
          <View style={beside ? styles.side : styles.under}>
            <GridPanel
              {...{ form: grid.form, onForm: grid.setForm, corners: grid.corners, corner: grid.corner }}
              {...{ onCorner: grid.setCorner, seats: grid.seats, problem: grid.problem }}
              onTry={(seat) => go(seat, lens.zoomForHfov(seat.hfovDeg))}
              onMake={() => void grid.make()}
              onClose={() => grid.setOpen(false)}
            />
          </View>
        ) : null}
      </View>
      <View style={styles.tools}>
        {tools.map(({ tool: one, label }) => (
          <Key
            key={one}
            label={narrow && one === 'store' ? 'Store' : label}
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
    </>
  )
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: TONES.ink },
  main: { flex: 1, flexDirection: 'row', minHeight: 0 },
  place: { flex: 1, minWidth: 0, minHeight: 0 },
  none: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: 24, gap: 12 },
  about: { maxWidth: 460, textAlign: 'center' },
  map: { flex: 1, minHeight: 0, marginHorizontal: 8, marginTop: 4 },
  beside: { flex: 1, minHeight: 0, flexDirection: 'row' },
  stacked: { flex: 1, minHeight: 0 },
  side: { width: 330, borderLeftWidth: 1, borderLeftColor: TONES.line },
  under: { height: '48%', borderTopWidth: 1, borderTopColor: TONES.line },
  tools: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 6, padding: 8 },
  tool: { paddingHorizontal: 10 },
  how: { flex: 1, minWidth: 160 },
  notes: { position: 'absolute', left: 12, right: 12, bottom: 70, pointerEvents: 'box-none' },
})
