/** A camera's presets as one row, where a low window has no height for a board. */
import { memo, type ReactNode } from 'react'
import { FlatList, StyleSheet, View } from 'react-native'
import type { CameraView, PresetView } from '../../server/api'
import { Key } from '../basics/Key'
import { NewTile } from '../presets/NewTile'
import { LiveTile } from '../presets/PresetTile'
import { TILE_ROW } from './arrangement'

const TILE = 92
const GAP = 8

interface TileRowProps {
  view: CameraView
  presets: readonly PresetView[]
  dragging: boolean
  onRecall(id: string): void
  onEdit(id: string): void
  onStore(): void
  /** Of the switcher. */
  keys: ReactNode
  /** The whole board. */
  onAll(): void
}

export const TileRow = memo(function TileRow(props: TileRowProps) {
  const { view, presets, dragging, onRecall, onEdit, onStore, keys, onAll } = props
  return (
    <View style={styles.row}>
      <FlatList
        horizontal
        data={[...presets, null]}
        keyExtractor={(preset) => preset?.id ?? 'new'}
        getItemLayout={(_, index) => ({ length: TILE + GAP, offset: (TILE + GAP) * index, index })}
        extraData={dragging}
        initialNumToRender={6}
        windowSize={3}
        showsHorizontalScrollIndicator={false}
        renderItem={({ item }) => (
          <View style={styles.tile}>
            {item ? (
              <LiveTile
                preset={item}
                camera={view}
                foreign={false}
                width={TILE}
                editing={false}
                dragging={dragging}
                onRecall={onRecall}
                onEdit={onEdit}
              />
            ) : (
              <NewTile width={TILE} dragging={dragging} onPress={onStore} />
            )}
          </View>
        )}
      />
      {keys}
      <Key
        label="All"
        description="All presets, with search and sections"
        onPress={onAll}
        testID="board-open"
      />
    </View>
  )
})

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', gap: GAP, height: TILE_ROW, alignSelf: 'stretch' },
  tile: { width: TILE + GAP },
})
