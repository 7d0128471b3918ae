/** The Desk with its camera: one set of blocks, arranged by the window. */
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
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { StyleSheet, useWindowDimensions, View } from 'react-native'
import { type Block, moved, type Placement } from '../../core/controls/placement'
import { can, isBlind } from '../../core/facts/capabilities'
import type { CameraView, DeskView } from '../../server/api'
import { switchTo } from '../api/client'
import { Advice } from '../basics/Advice'
import { sticks } from '../input/sticks'
import { useConnected } from '../live/hooks'
import { useAwake } from '../live/useAwake'
import { useMay } from '../people/me'
import { useAtDesk } from '../places/useAtDesk'
import { type NewStore, overwrite, recall, storeNew } from '../presets/actions'
import { Board } from '../presets/Board'
import { useBoardState } from '../presets/boardState'
import { movePreset } from '../presets/movePreset'
import { NEW_TILE } from '../presets/NewTile'
import { MOVED } from '../presets/PresetTile'
import { switchable } from '../tally/next'
import { ProgramCard } from '../tally/ProgramCard'
import { SwitchKeys } from '../tally/SwitchKeys'
import { GO_BAR, GO_BAR_FROM, HEADER, SLIM_HEADER } from '../theme/rooms'
import { ARRANGE_BAR, ArrangeBar } from './ArrangeBar'
import { Arranged } from './Arranged'
import { arrange, COLUMNS_FROM, shapeOf } from './arrangement'
import type { DeckProps } from './Deck'
import { DeskFrame } from './DeskFrame'
import { DeskSheets } from './DeskSheets'
import { DragStill, stillOf } from './DragStill'
import { useDeskState } from './deskState'
import { changePlacement, PlacingContext, resetPlacement, usePlacement } from './placing'
import { EDGE, EDGE_WIDTH, SLOT } from './Slot'
import { STAGE_ROOM, Stage, stageExtra, stageHeight } from './Stage'
import { selectCamera, toggleCamera } from './selection'
import { TileRow } from './TileRow'
import { ToolRow } from './ToolRow'
import { useCamera } from './useCamera'
import { useDeskKeys } from './useDeskKeys'
import { useLeashOffer } from './useLeashOffer'
import { useLimitBuzz } from './useLimitBuzz'

/** A drag begins when the pointer has gone this far, px; before that it is a touch. */
const DRAG_FROM = 8

/** The tile under the pointer; nothing elsewhere, so that a slip stores nothing. */
const underPointer: CollisionDetection = (args) => {
  const arranging = String(args.active.id).startsWith(SLOT)
  const wanted = ({ id }: { id: string | number }) => /^(block|edge):/.test(String(id)) === arranging
  return pointerWithin({ ...args, droppableContainers: args.droppableContainers.filter(wanted) })
}

interface CameraDeskProps {
  desk: DeskView
  view: CameraView
  /** Cameras that are driven along with it. */
  along: readonly CameraView[]
}

export function CameraDesk({ desk, view, along }: CameraDeskProps) {
  const size = useWindowDimensions()
  const mayCut = useMay('tally')
  const mayCue = useMay('cues')
  const mayDrive = useMay('drive')
  const canSwitch = switchable(desk.tally).cut && mayCut
  // A window that is wide and high enough has the running order along its bottom.
  const wideEnough = size.width >= COLUMNS_FROM && size.height >= GO_BAR_FROM
  const canOrder = wideEnough && mayCue && desk.show.cues.some(({ listed }) => listed)
  const shape = shapeOf(size.width, size.height, canSwitch)
  const { placement, own } = usePlacement(shape)
  const switches = canSwitch && !placement.hidden.includes('switch')
  const ordered = canOrder && !placement.hidden.includes('order')
  const state = useDeskState()
  const { arranging, setArranging } = state
  const placing = useMemo(
    () => ({
      shape,
      placement,
      open: arranging,
      change: (next: Placement) => changePlacement(shape, next),
    }),
    [shape, placement, arranging],
  )
  const header = shape === 'across' || shape === 'slim' ? SLIM_HEADER : HEADER
  const height = size.height - (ordered ? GO_BAR : 0) - (arranging ? ARRANGE_BAR - header : 0)
  // While the edges wait for a block, the columns stand between them.
  const width = size.width - (arranging && shape === 'wide' ? 2 * EDGE_WIDTH : 0)
  const plan = useMemo(
    () => arrange(width, height, STAGE_ROOM, switches, placement),
    [width, height, switches, placement],
  )
  const camera = useCamera(view)
  useAwake()
  useLimitBuzz(camera)
  useLeashOffer(camera)
  const connected = useConnected()
  const presets = useMemo(() => desk.presets.filter((p) => p.cameraId === view.id), [desk.presets, view.id])
  const canvas = useRef<HTMLCanvasElement | null>(null)
  const [held, setHeld] = useState<string | null>(null)
  const [dragging, setDragging] = useState(false)
  const [busy, setBusy] = useState(false)
  const { tool, setTool, toolPace, setToolPace, boardKind, setBoardKind, setSheet, setEdited } = state
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
  const { switcher } = desk.tally
  const monitors = switcher.enabled && switcher.monitor !== null
  useEffect(() => {
    // A monitor beside the desk follows the camera that is chosen; if it cannot, the work goes on.
    if (monitors) void switchTo('monitor', view.number).catch(() => {})
  }, [monitors, view.number])
  useAtDesk()

  const blind = camera.able !== null && isBlind(camera.able)
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
    // A camera that does not report its position keeps a preset in its own memory alone.
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
  const { setAir } = state
  const onAir = useCallback(() => setAir(true), [setAir])
  const also = useMemo(() => along.map((c) => c.id), [along])
  const alongNumbers = useMemo(() => along.map((c) => c.number), [along])

  const drop = ({ active, over }: DragEndEvent) => {
    setDragging(false)
    if (!over) return
    if (String(active.id).startsWith(SLOT)) {
      const to = String(over.id)
      const block = String(active.id).slice(SLOT.length) as Block
      if (to.startsWith(EDGE)) placing.change(moved(shape, placement, block, to.slice(EDGE.length) as 'left'))
      else if (to.startsWith(SLOT))
        placing.change(moved(shape, placement, block, to.slice(SLOT.length) as Block))
      return
    }
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

  const lost =
    connected === false ? (
      <Advice
        title="No connection to the server"
        text="Nothing can be driven from here. See that the computer which runs Steady Heron is on, and on this network. This page reconnects by itself."
        style={styles.lost}
      />
    ) : null
  // Over the picture: nothing may move under a thumb because a connection came or went.
  const stage = (
    <View style={{ height: stageHeight(plan.pictureWidth), width: plan.pictureWidth + stageExtra }}>
      <Stage
        camera={camera}
        presets={presets}
        width={plan.pictureWidth}
        canvasRef={canvas}
        typed={typed}
        along={alongNumbers}
        tool={tool}
        toolPace={toolPace}
        onRecall={onRecall}
      />
      {lost}
    </View>
  )
  const deck: DeckProps = { camera, size: plan.pad, busy, toolPace, onStore: store, onMore }
  const tools = mayDrive ? (
    <ToolRow
      tool={tool}
      onTool={setTool}
      toolPace={toolPace}
      onToolPace={setToolPace}
      focusPoint={can(camera.able, 'focusAt')}
      shortcuts={plan.kind === 'columns' && plan.roomy}
    />
  ) : null
  const hasProgram = switcher.enabled && switcher.pictureUrl !== null
  const { program } = useBoardState()
  const switchKeys = (as: 'row' | 'column' | 'low') =>
    switches ? <SwitchKeys desk={desk} view={view} as={as} /> : null
  const rail = {
    cameras: desk.cameras,
    primary: view.id,
    also,
    adding,
    onAdding: setAdding,
    onPress: onCard,
    onAll,
    onAir,
    program:
      hasProgram && program
        ? (width: number) => <ProgramCard desk={desk} width={width} onPress={onAir} />
        : null,
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
        if (String(active.id).startsWith(MOVED) || String(active.id).startsWith(SLOT)) return
        setHeld(stillOf(canvas.current))
        setDragging(true)
      }}
      onDragEnd={drop}
      onDragCancel={() => setDragging(false)}
    >
      <DeskFrame
        desk={desk}
        plan={plan}
        arranging={
          arranging ? (
            <ArrangeBar
              placing={placing}
              width={size.width}
              own={own}
              canSwitch={canSwitch}
              canOrder={canOrder}
              onReset={() => resetPlacement(shape)}
              onDone={() => setArranging(false)}
            />
          ) : null
        }
        ordered={ordered}
        view={view}
        all={all}
        several={adding || along.length > 0}
        onAll={setAll}
        air={state.air}
        onAir={state.setAir}
        onSeveral={() => setAdding(!adding)}
        onChoose={choose}
      >
        <PlacingContext.Provider value={placing}>
          <Arranged
            plan={plan}
            placement={placement}
            rail={rail}
            stage={stage}
            tools={tools}
            deck={deck}
            board={board}
            switchKeys={switchKeys}
            row={
              <TileRow
                view={view}
                presets={presets}
                dragging={dragging}
                onRecall={onRecall}
                onEdit={setEdited}
                onStore={store}
                keys={switchKeys('low')}
                onAll={() => state.setBoard(true)}
              />
            }
            boardOpen={state.board}
            onCloseBoard={() => state.setBoard(false)}
          />
        </PlacingContext.Provider>
      </DeskFrame>
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
  lost: { position: 'absolute', top: 8, left: 8, right: 8, zIndex: 1 },
})
