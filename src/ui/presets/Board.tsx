/** A camera's tiles in order. */
import { useState } from 'react'
import { type LayoutChangeEvent, ScrollView, StyleSheet, View } from 'react-native'
import type { LivePose } from '../../core/presets/pose'
import { standingOf, type Travel } from '../../core/presets/standing'
import type { PresetView } from '../../server/api'
import { Key } from '../basics/Key'
import { Notes } from '../basics/Notes'
import { Words } from '../basics/Words'
import { NewTile } from './NewTile'
import { PresetTile } from './PresetTile'

const GAP = 8
const COLUMNS = 3

interface BoardProps {
  title: string
  presets: readonly PresetView[]
  pose: LivePose | null
  travel: Travel | null
  zoomRange: number
  dragging: boolean
  onRecall(id: string): void
  onEdit(id: string): void
  onStore(): void
}

export function Board({
  title,
  presets,
  pose,
  travel,
  zoomRange,
  dragging,
  onRecall,
  onEdit,
  onStore,
}: BoardProps) {
  const [width, setWidth] = useState(0)
  const [editing, setEditing] = useState(false)
  const tile = Math.floor((width - GAP * (COLUMNS - 1)) / COLUMNS)
  const count = presets.length === 1 ? '1 preset' : `${presets.length} presets`
  return (
    <View style={styles.board}>
      <View style={styles.head}>
        <Words size={16} weight="bold" tone="sand" numberOfLines={1} style={styles.title}>
          {title}
        </Words>
        <Words size={14} tone="mist">
          {count}
        </Words>
        {presets.length > 0 ? (
          <Key
            label={editing ? 'Done' : 'Change'}
            on={editing}
            onPress={() => setEditing(!editing)}
            style={styles.change}
            testID="change-presets"
          />
        ) : null}
      </View>
      <ScrollView
        style={styles.scroll}
        onLayout={(e: LayoutChangeEvent) => setWidth(e.nativeEvent.layout.width)}
      >
        {presets.length === 0 ? (
          <Words size={15} tone="mist" style={styles.empty}>
            No presets yet. Point the camera, then touch Store, or drag the picture onto the tile below.
          </Words>
        ) : null}
        {width > 0 ? (
          <View style={styles.tiles}>
            {presets.map((preset) => (
              <PresetTile
                key={preset.id}
                preset={preset}
                standing={standingOf(preset, pose, travel, zoomRange)}
                width={tile}
                editing={editing}
                dragging={dragging}
                onPress={() => onRecall(preset.id)}
                onEdit={() => onEdit(preset.id)}
              />
            ))}
            <NewTile width={tile} dragging={dragging} onPress={onStore} />
          </View>
        ) : null}
      </ScrollView>
      <Notes />
    </View>
  )
}

const styles = StyleSheet.create({
  board: { flex: 1, minHeight: 0 },
  head: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: 48, paddingHorizontal: 12 },
  title: { flexShrink: 1, flexGrow: 1 },
  change: { minHeight: 44, paddingHorizontal: 14 },
  scroll: { flex: 1, marginHorizontal: 12 },
  tiles: { flexDirection: 'row', flexWrap: 'wrap', gap: GAP, paddingTop: 4, paddingBottom: 16 },
  empty: { paddingVertical: 12 },
})
