/** The Desk with its camera: one set of pieces, arranged for a phone or a wide screen. */

import {
  type CollisionDetection,
  DndContext,
  type DragEndEvent,
  MouseSensor,
  pointerWithin,
  TouchSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import Layers from 'lucide-react-native/icons/layers'
import LayoutGrid from 'lucide-react-native/icons/layout-grid'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { StyleSheet, useWindowDimensions, View } from 'react-native'
import { can } from '../../core/facts/capabilities'
import type { CameraView, DeskView } from '../../server/api'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { fault } from '../basics/notes'
import { loadPersons } from '../input/controlsStore'
import { sticks } from '../input/sticks'
import { useConnected } from '../live/hooks'
import { live } from '../live/live'
import { Header } from '../places/Header'
import { PLACES_BELOW, PlacesBelow } from '../places/Places'
import { type NewStore, overwrite, recall, storeNew } from '../presets/actions'
import { Board } from '../presets/Board'
import { movePreset } from '../presets/movePreset'
import { NEW_TILE } from '../presets/NewTile'
import { MOVED } from '../presets/PresetTile'
import { TONES, WIDE_FROM } from '../theme/tones'
import { AllPictures } from './AllPictures'
import { CameraRail, CameraStrip } from './CameraRail'
import { Deck } from './Deck'
import { DeskSheets } from './DeskSheets'
import { DragStill, stillOf } from './DragStill'
import { useDeskState } from './deskState'
import { Stage, stageExtra, stageHeight } from './Stage'
import { selectCamera, toggleCamera } from './selection'
import { ToolRow } from './ToolRow'
import { useCamera } from './useCamera'
import { useDeskKeys } from './useDeskKeys'
import { useLeashOffer } from './useLeashOffer'

const RAIL = 210
const SIDE = 356
const DECK_PHONE = 204
const DECK_WIDE = 216
const HEADER = 46
const STRIP_ROOM = 66
const SPEED_ROOM = 52
/** A drag begins when the pointer has gone this far, px; before that it is a touch. */
const DRAG_FROM = 8

/** The tile under the pointer; nothing elsewhere, so that a slip stores nothing. */
const underPointer: CollisionDetection = (args) => pointerWithin(args)

function pictureWidth(width: number, height: number, wide: boolean): number {
  const room = wide ? width - RAIL - SIDE - 12 : width
  const byWidth = room - stageExtra - (wide ? 0 : 4)
  const byHeight =
    ((height -
      HEADER -
      (wide ? DECK_WIDE + 108 : DECK_PHONE + SPEED_ROOM + STRIP_ROOM + PLACES_BELOW + 170) -
      34) *
      16) /
    9
  return Math.max(220, Math.floor(Math.min(byWidth, byHeight)))
}

interface CameraDeskProps {
  desk: DeskView
  view: CameraView
  /** Cameras that are driven along with it. */
  along: readonly CameraView[]
}

export function CameraDesk({ desk, view, along }: CameraDeskProps) {
  const size = useWindowDimensions()
  const wide = size.width >= WIDE_FROM
  const camera = useCamera(view)
  useLeashOffer(camera)
  const connected = useConnected()
  const presets = useMemo(() => desk.presets.filter((p) => p.cameraId === view.id), [desk.presets, view.id])
  const canvas = useRef<HTMLCanvasElement | null>(null)
  const [held, setHeld] = useState<string | null>(null)
  const [dragging, setDragging] = useState(false)
  const [busy, setBusy] = useState(false)
  const state = useDeskState()
  const { tool, setTool, seconds, setSeconds, boardKind, setBoardKind, setSheet, setEdited } = state
  const { all, setAll, adding, setAdding } = state
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: DRAG_FROM } }),
    // A second finger that comes within this time makes it a pinch.
    useSensor(TouchSensor, { activationConstraint: { delay: 140, tolerance: DRAG_FROM } }),
  )

  const driven = [view, ...along].map((c) => c.id).join()
  useEffect(() => {
    sticks.select(driven.split(','))
    return () => sticks.select([])
  }, [driven])
  useEffect(() => {
    void loadPersons()
  }, [])
  useEffect(() => {
    live().onNotice = (_camera, text) => fault(text)
  }, [])

  const blind = camera.able?.position === false
  const storeAs = useCallback(
    async (wish: NewStore) => {
      if (busy) return
      setBusy(true)
      await storeNew(view.id, setEdited, wish)
      setBusy(false)
    },
    [busy, view.id, setEdited],
  )
  const store = useCallback(() => {
    // A camera that does not tell where it stands keeps a preset in its own memory alone.
    if (blind) setSheet('memory')
    else void storeAs({})
  }, [blind, storeAs, setSheet])
  const onRecall = useCallback((id: string) => void recall(id), [])
  const choose = useCallback(
    (id: string) => {
      setAll(false)
      selectCamera(id)
    },
    [setAll],
  )
  const typed = useDeskKeys(state, {
    ...{ desk, camera, presets, store, onRecall },
    storeAs: (wish) => void storeAs(wish),
    onCamera: choose,
  })
  const onCard = useCallback(
    (id: string, add: boolean) => (add || adding ? toggleCamera(id, view.id) : choose(id)),
    [adding, choose, view.id],
  )
  const onPace = useCallback(() => setSheet('pace'), [setSheet])
  const onMore = useCallback(() => setSheet('more'), [setSheet])
  const onAll = useCallback(() => setAll(true), [setAll])
  const also = useMemo(() => along.map((c) => c.id), [along])
  const alongNumbers = useMemo(() => along.map((c) => c.number), [along])

  const drop = ({ active, over }: DragEndEvent) => {
    setDragging(false)
    if (!over) return
    if (String(active.id).startsWith(MOVED)) {
      void movePreset(
        desk,
        boardKind === 'pinned' ? 'pinned' : 'own',
        String(active.id).slice(MOVED.length),
        String(over.id),
      )
      return
    }
    const target = desk.presets.find((p) => p.id === over.id && p.cameraId === view.id)
    if (over.id === NEW_TILE) store()
    else if (target) void overwrite(target)
  }

  const width = pictureWidth(size.width, size.height, wide)
  const header = (
    <Header event={desk.event.name} venue={desk.venue.name} wide={wide}>
      {wide ? null : (
        <>
          <Key
            label=""
            accessibilityLabel="Drive several"
            tone="quiet"
            on={adding || along.length > 0}
            icon={<Layers size={20} color={TONES.mist} />}
            onPress={() => setAdding(!adding)}
            style={styles.headerKey}
            testID="several"
          />
          <Key
            label=""
            accessibilityLabel="All pictures"
            tone="quiet"
            icon={<LayoutGrid size={20} color={TONES.mist} />}
            onPress={() => setAll(!all)}
            style={styles.headerKey}
            testID="all-pictures"
          />
        </>
      )}
    </Header>
  )
  const lost =
    connected === false ? (
      <Advice
        title="No connection to the server"
        text="Nothing can be driven from here. See that the computer which runs Steady Heron is on, and on this network. This page comes back by itself."
        style={styles.lost}
      />
    ) : null
  // Over the picture: nothing may move under a thumb because a connection came or went.
  const stage = (
    <View>
      <Stage
        camera={camera}
        presets={presets}
        width={width}
        canvasRef={canvas}
        typed={typed}
        along={alongNumbers}
        tool={tool}
        seconds={seconds}
        onRecall={onRecall}
      />
      {lost}
    </View>
  )
  const deck = (
    <Deck
      camera={camera}
      size={wide ? DECK_WIDE : DECK_PHONE}
      wide={wide}
      busy={busy}
      onStore={store}
      onMore={onMore}
    />
  )
  const rail = {
    cameras: desk.cameras,
    primary: view.id,
    also,
    adding,
    onAdding: setAdding,
    onPress: onCard,
    onAll,
  }
  const board = (
    <Board
      desk={desk}
      view={view}
      kind={boardKind}
      onKind={setBoardKind}
      dragging={dragging}
      onRecall={onRecall}
      onEdit={setEdited}
      onStore={store}
      onPace={onPace}
    />
  )
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={underPointer}
      autoScroll={false}
      onDragStart={({ active }) => {
        if (String(active.id).startsWith(MOVED)) return
        setHeld(stillOf(canvas.current))
        setDragging(true)
      }}
      onDragEnd={drop}
      onDragCancel={() => setDragging(false)}
    >
      <View style={styles.page}>
        {header}
        {all ? (
          <AllPictures
            cameras={desk.cameras}
            primary={view.id}
            onChoose={choose}
            onClose={() => setAll(false)}
          />
        ) : wide ? (
          <View style={styles.columns}>
            <View style={styles.rail}>
              <CameraRail {...rail} />
            </View>
            <View style={styles.middle}>
              {stage}
              <ToolRow
                tool={tool}
                onTool={setTool}
                seconds={seconds}
                onSeconds={setSeconds}
                focusPoint={can(camera.able, 'focusAt')}
                shortcuts
              />
              {deck}
            </View>
            <View style={styles.side}>{board}</View>
          </View>
        ) : (
          <>
            <CameraStrip {...rail} />
            <View style={[styles.top, { height: stageHeight(width) + 6 }]}>{stage}</View>
            {board}
            <View style={styles.deckPhone}>{deck}</View>
          </>
        )}
        {wide ? null : <PlacesBelow />}
      </View>
      <DragStill dragging={dragging} still={held} />
      <DeskSheets
        desk={desk}
        camera={camera}
        presets={presets}
        state={state}
        onStore={(wish) => void storeAs(wish)}
      />
    </DndContext>
  )
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: TONES.ink, minHeight: 0 },
  columns: { flex: 1, flexDirection: 'row', minHeight: 0 },
  rail: { width: RAIL, padding: 10, borderRightWidth: 1, borderRightColor: TONES.line },
  middle: { flex: 1, alignItems: 'center', paddingTop: 10, gap: 6 },
  side: { width: SIDE, borderLeftWidth: 1, borderLeftColor: TONES.line, paddingTop: 4 },
  top: { alignItems: 'center', paddingTop: 6 },
  deckPhone: { borderTopWidth: 1, borderTopColor: TONES.line },
  lost: { position: 'absolute', top: 8, left: 8, right: 8, zIndex: 1 },
  headerKey: { paddingHorizontal: 0, minHeight: 40 },
})
