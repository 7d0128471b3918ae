/** Setup's list of cameras. */
import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable'
import { useEffect, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import type { CameraView, DeskView } from '../../server/api'
import { changeCamera, numberByAddress, orderCameras, powerAll } from '../api/client'
import { Key } from '../basics/Key'
import { fault, note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { CameraRow } from './CameraRow'
import { CameraSheet } from './CameraSheet'
import { type Draft, draftOf, emptyDraft } from './draft'
import { FindSheet } from './FindSheet'

async function switchAll(on: boolean): Promise<void> {
  const result = await told(() => powerAll(on))
  if (!result) return
  if (result.failed.length === 0)
    note(on ? 'All cameras are told to switch on.' : 'All cameras are told to go to standby.')
  for (const { camera, message } of result.failed) fault(`${camera}: ${message}`)
}

async function toggle(view: CameraView): Promise<void> {
  const { id, passwords: _, warnings: __, ...settings } = view
  await told(() => changeCamera(id, { ...settings, enabled: !view.enabled }, {}))
}

const nextNumber = (cameras: readonly CameraView[]) => Math.max(0, ...cameras.map((c) => c.number)) + 1

export function CameraList({ desk }: { desk: DeskView }) {
  const [order, setOrder] = useState<string[] | null>(null)
  const [sheet, setSheet] = useState<{ view: CameraView | null; draft: Draft } | null>(null)
  const [finding, setFinding] = useState(false)
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  // The server's order is the true one as soon as it comes.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the list is what it depends on
  useEffect(() => setOrder(null), [desk.cameras])
  const place = (c: CameraView) => (order ? order.indexOf(c.id) : 0)
  const cameras = [...desk.cameras].sort((a, b) => place(a) - place(b))
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return
    const ids = cameras.map((c) => c.id)
    const moved = arrayMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id)))
    setOrder(moved)
    void told(() => orderCameras(moved))
  }
  return (
    <View style={styles.list}>
      <View style={styles.keys}>
        <Key label="Find cameras" tone="filled" onPress={() => setFinding(true)} testID="find-cameras" />
        <Key
          label="Add by address"
          onPress={() => setSheet({ view: null, draft: emptyDraft(nextNumber(desk.cameras)) })}
          testID="add-camera"
        />
        {cameras.length > 0 ? (
          <>
            <Key
              label="Number by address"
              onPress={() => void told(numberByAddress)}
              testID="number-by-address"
            />
            <Key label="All on" onPress={() => void switchAll(true)} testID="all-on" />
            <Key label="All to standby" onPress={() => void switchAll(false)} testID="all-standby" />
          </>
        ) : null}
      </View>
      {cameras.length === 0 ? (
        <Words size={15} tone="mist">
          No cameras yet. Find those of this network, or add one by its address.
        </Words>
      ) : null}
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        <SortableContext items={cameras.map((c) => c.id)} strategy={verticalListSortingStrategy}>
          {cameras.map((view) => (
            <CameraRow
              key={view.id}
              view={view}
              onEdit={() => setSheet({ view, draft: draftOf(view) })}
              onToggle={() => void toggle(view)}
            />
          ))}
        </SortableContext>
      </DndContext>
      {finding ? (
        <FindSheet
          onClose={() => setFinding(false)}
          onChoose={(connection, title) => {
            setFinding(false)
            setSheet({ view: null, draft: emptyDraft(nextNumber(desk.cameras), connection, title) })
          }}
        />
      ) : null}
      {sheet ? (
        <CameraSheet
          key={sheet.view?.id ?? 'new'}
          desk={desk}
          view={sheet.view && (desk.cameras.find((c) => c.id === sheet.view?.id) ?? sheet.view)}
          draft={sheet.draft}
          onClose={() => setSheet(null)}
        />
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  list: { gap: 8 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, marginBottom: 6 },
})
