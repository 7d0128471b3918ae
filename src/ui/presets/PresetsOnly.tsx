/** Presets alone: for a second screen, or a helper's phone. */
import {
  DndContext,
  type DragEndEvent,
  MouseSensor,
  pointerWithin,
  TouchSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import { useEffect, useState } from 'react'
import { StyleSheet, useWindowDimensions, View } from 'react-native'
import { Advice } from '../basics/Advice'
import { fault } from '../basics/notes'
import { Words } from '../basics/Words'
import { CameraStrip } from '../desk/CameraRail'
import { ClaimBar } from '../desk/ClaimChip'
import { selectCamera, useSelection } from '../desk/selection'
import { useDigits } from '../desk/useDigits'
import { loadPersons } from '../input/controlsStore'
import { useKeys } from '../input/useKeys'
import { useConnected, useDesk } from '../live/hooks'
import { live } from '../live/live'
import { Header } from '../places/Header'
import { PlacesBelow } from '../places/Places'
import { AskBar } from '../tally/AskBar'
import { TONES, WIDE_FROM } from '../theme/tones'
import { recall, storeNew } from './actions'
import { Board, type BoardKind } from './Board'
import { movePreset } from './movePreset'
import { PaceOnceSheet } from './PaceOnce'
import { PresetSheet } from './PresetSheet'
import { MOVED } from './PresetTile'

const NO_PRESET = (typed: string) => `There is no preset ${typed} on this camera.`

export default function PresetsOnly() {
  const { data } = useDesk()
  const selection = useSelection()
  const connected = useConnected()
  const wide = useWindowDimensions().width >= WIDE_FROM
  const [kind, setKind] = useState<BoardKind>('camera')
  const [edited, setEdited] = useState<string | null>(null)
  const [pacing, setPacing] = useState(false)
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 8 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 140, tolerance: 8 } }),
  )
  useEffect(() => {
    live().onNotice = (_camera, text) => fault(text)
    void loadPersons()
  }, [])
  const view = data?.cameras.find((c) => c.id === selection.primary) ?? data?.cameras[0]
  const digits = useDigits(
    data?.presets.filter((p) => p.cameraId === view?.id) ?? [],
    (id) => void recall(id),
    NO_PRESET,
  )
  useKeys({
    press: {
      findPreset: () => setKind('find'),
      pinned: () => setKind('pinned'),
      paceOnce: () => setPacing(true),
      stop: () => setKind('camera'),
    },
    digit: digits.digit,
    enter: digits.enter,
  })
  if (!data || !view)
    return (
      <View style={styles.page}>
        {data ? <Header event={data.event.name} venue={data.venue.name} wide={wide} /> : null}
        <View style={[styles.main, styles.middle]} role="main">
          <Words tone="mist">{data ? 'No cameras yet. Add them in Setup.' : 'Opening the presets…'}</Words>
        </View>
        {wide ? null : <PlacesBelow />}
      </View>
    )
  const drop = ({ active, over }: DragEndEvent) => {
    if (over && String(active.id).startsWith(MOVED))
      void movePreset(
        data,
        kind === 'pinned' ? 'pinned' : 'own',
        String(active.id).slice(MOVED.length),
        String(over.id),
      )
  }
  const shown = data.presets.find((p) => p.id === edited)
  return (
    <DndContext sensors={sensors} collisionDetection={pointerWithin} onDragEnd={drop}>
      <View style={styles.page}>
        <Header event={data.event.name} venue={data.venue.name} wide={wide} />
        {connected === false ? (
          <Advice
            title="No connection to the server"
            text="Nothing can be recalled from here. This page reconnects by itself."
            style={styles.lost}
          />
        ) : null}
        <CameraStrip
          cameras={data.cameras}
          primary={view.id}
          also={[]}
          adding={false}
          onAdding={() => {}}
          onPress={(id) => {
            selectCamera(id)
            setKind('camera')
          }}
          onAll={() => {}}
        />
        <ClaimBar camera={view.id} />
        <View>
          <AskBar />
        </View>
        {digits.typed ? (
          <Words size={20} weight="bold" style={styles.typed} testID="typed">
            {digits.typed}
          </Words>
        ) : null}
        <Board
          desk={data}
          view={view}
          kind={kind}
          onKind={setKind}
          dragging={false}
          onRecall={(id) => void recall(id)}
          onEdit={setEdited}
          onStore={() => void storeNew(view.id, setEdited)}
          onPace={() => setPacing(true)}
        />
        {wide ? null : <PlacesBelow />}
      </View>
      {shown ? (
        <PresetSheet key={shown.id} desk={data} preset={shown} onClose={() => setEdited(null)} />
      ) : null}
      {pacing ? <PaceOnceSheet onClose={() => setPacing(false)} /> : null}
    </DndContext>
  )
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: TONES.ink, minHeight: 0 },
  main: { flex: 1, minHeight: 0 },
  middle: { alignItems: 'center', justifyContent: 'center' },
  lost: { margin: 8 },
  typed: { alignSelf: 'center', padding: 6 },
})
