/** Sightlines, the place: all that a camera can reach, with every preset's frame where the lens sees it. */
import { useCallback, useEffect, useState } from 'react'
import { type LayoutChangeEvent, StyleSheet, useWindowDimensions, View } from 'react-native'
import useSWR from 'swr'
import type { PanTilt } from '../../core/optics/aim'
import type { SurveyView } from '../../core/survey/surveys'
import type { CameraView, DeskView } from '../../server/api'
import { NoVenue, readSurveys } from '../api/client'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { Notes } from '../basics/Notes'
import { note } from '../basics/notes'
import { Words } from '../basics/Words'
import { CameraStrip } from '../desk/CameraRail'
import { selectCamera, useSelection } from '../desk/selection'
import { useCamera } from '../desk/useCamera'
import { useDesk, useFact } from '../live/hooks'
import { useMay } from '../people/me'
import { Header } from '../places/Header'
import { PlacesBelow, PlacesBeside } from '../places/Places'
import { useAtDesk } from '../places/useAtDesk'
import { RoundLines } from '../presets/RoundLines'
import FirstVenue from '../setup/FirstVenue'
import { AskBar } from '../tally/AskBar'
import { TONES, WIDE_FROM } from '../theme/tones'
import { PointsPanel } from './room/PointsPanel'
import { RoomPlace } from './room/RoomPlace'
import { changeRoom, openRoom, useRoom, useRoomMode } from './room/useRoom'
import { RENEW, Surveyed } from './Surveyed'
import { SurveySheet } from './SurveySheet'
import { LOW_BELOW, type Size } from './viewport'

export default function Sightlines() {
  const { data, error } = useDesk()
  const { width, height } = useWindowDimensions()
  const wide = width >= WIDE_FROM
  const low = height < LOW_BELOW
  const selection = useSelection()
  useAtDesk()
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
  const room = useRoom(desk.event.id)
  const { open, point } = useRoomMode()
  const onMark = (at: PanTilt) => {
    const { panDeg, tiltDeg } = at
    void changeRoom(desk.event.id, (kept) => ({
      ...kept,
      points: kept.points.map((one) =>
        one.id === point
          ? {
              ...one,
              marks: [
                ...one.marks.filter(({ cameraId }) => cameraId !== view.id),
                { cameraId: view.id, panDeg, tiltDeg },
              ],
            }
          : one,
      ),
    }))
  }
  const points =
    room && open === 'points' ? (
      <PointsPanel {...{ event: desk.event.id, cameras: desk.cameras, camera, room, onMark }} />
    ) : null
  const beside = width >= WIDE_FROM || height < LOW_BELOW
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
      {open === 'plan' && room ? (
        <RoomPlace {...{ desk, view, room }} />
      ) : survey ? (
        <Surveyed
          {...{ desk, camera, survey, size, onLayout, room, points, onMark }}
          onAgain={mayStore && !surveying ? () => setAsking(true) : null}
          renewing={renewing}
          onRenewed={() => setRenewing(false)}
        />
      ) : (
        <View style={beside ? styles.beside : styles.stacked}>
          <View style={styles.none} onLayout={onLayout}>
            {surveys ? (
              <>
                <Words size={17} weight="bold" style={styles.about}>
                  {surveying ? 'The camera looks around' : `Nobody knows yet what ${view.name} can reach`}
                </Words>
                <Words size={15} tone="mist" style={styles.about}>
                  {surveying
                    ? 'Its pictures are put together when it has taken all of them.'
                    : 'A survey photographs all that this camera can reach. Presets then appear as frames on that picture, and you choose a shot by touching a person or a place.'}
                </Words>
                <View style={styles.keys}>
                  {mayStore && !surveying ? (
                    <Key
                      label="Survey"
                      tone="filled"
                      disabled={!camera.enabled}
                      onPress={() => setAsking(true)}
                      testID="survey"
                    />
                  ) : null}
                  {points === null && room ? (
                    <Key label="The room" onPress={() => openRoom('plan')} testID="open-room" />
                  ) : null}
                </View>
              </>
            ) : (
              <Words tone="mist">Opening…</Words>
            )}
          </View>
          {points ? <View style={beside ? styles.side : styles.under}>{points}</View> : null}
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

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: TONES.ink },
  main: { flex: 1, flexDirection: 'row', minHeight: 0 },
  place: { flex: 1, minWidth: 0, minHeight: 0 },
  none: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: 12, gap: 10 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', justifyContent: 'center', gap: 8 },
  about: { maxWidth: 460, textAlign: 'center' },
  beside: { flex: 1, minHeight: 0, flexDirection: 'row' },
  stacked: { flex: 1, minHeight: 0 },
  side: { width: 330, borderLeftWidth: 1, borderLeftColor: TONES.line },
  under: { height: '48%', borderTopWidth: 1, borderTopColor: TONES.line },
  notes: { position: 'absolute', left: 12, right: 12, bottom: 70, pointerEvents: 'box-none' },
})
