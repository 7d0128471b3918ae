/** All cameras: a rail beside the picture on a wide screen, a strip above it on a phone. */
import Layers from 'lucide-react-native/icons/layers'
import LayoutGrid from 'lucide-react-native/icons/layout-grid'
import Radio from 'lucide-react-native/icons/radio'
import { memo, type ReactNode } from 'react'
import { FlatList, StyleSheet, View } from 'react-native'
import type { CameraView } from '../../server/api'
import { Key } from '../basics/Key'
import { COMPACT_STRIP, STRIP } from '../theme/rooms'
import { TONES } from '../theme/tones'
import { CHIP, RAIL_CARD, RailCard, STRIP_CARD, StripCard } from './CameraCard'

export interface RailProps {
  cameras: readonly CameraView[]
  primary: string
  also: readonly string[]
  /** A touch adds to what is driven instead of choosing another. */
  adding: boolean
  onAdding(adding: boolean): void
  onPress(id: string, add: boolean): void
  onAll(): void
  /** On air over next, where the header has no room for its key. */
  onAir?: (() => void) | undefined
  /** Numbers alone, if there is no room for pictures. */
  compact?: boolean
  /** With the keys for several and for all pictures, where the header has no room for them. */
  withKeys?: boolean
  /** Preview and Cut for the selected camera. */
  switchKeys?: ReactNode
  /** Below all cameras, by the width that it has. */
  program?: ((width: number) => ReactNode) | null
  width?: number
}

const chosen = (id: string, primary: string, also: readonly string[]) =>
  id === primary ? 'primary' : also.includes(id) ? 'also' : null

export const CameraRail = memo(function CameraRail(p: RailProps) {
  return (
    <View style={styles.rail}>
      <FlatList
        data={p.cameras}
        keyExtractor={(view) => view.id}
        extraData={[p.primary, p.also, p.onPress]}
        getItemLayout={(_, index) => ({ length: RAIL_CARD, offset: RAIL_CARD * index, index })}
        initialNumToRender={12}
        windowSize={3}
        renderItem={({ item }) => (
          <RailCard view={item} chosen={chosen(item.id, p.primary, p.also)} onPress={p.onPress} />
        )}
      />
      {p.width === undefined ? null : p.program?.(p.width)}
      {p.switchKeys}
      <Key
        label={p.adding ? 'Done' : 'Drive several'}
        on={p.adding || p.also.length > 0}
        onPress={() => p.onAdding(!p.adding)}
        testID="several"
      />
      <Key label="All pictures" shortcut="G" onPress={p.onAll} testID="all-pictures" />
    </View>
  )
})

export const CameraStrip = memo(function CameraStrip(p: RailProps) {
  return (
    <View style={[styles.strip, p.compact && styles.compact]}>
      <FlatList
        horizontal
        data={p.cameras}
        keyExtractor={(view) => view.id}
        extraData={[p.primary, p.also, p.onPress]}
        getItemLayout={(_, index) => {
          const length = p.compact ? CHIP : STRIP_CARD
          return { length, offset: length * index, index }
        }}
        initialNumToRender={8}
        windowSize={3}
        showsHorizontalScrollIndicator={false}
        renderItem={({ item }) => (
          <StripCard
            view={item}
            chosen={chosen(item.id, p.primary, p.also)}
            onPress={p.onPress}
            compact={p.compact}
          />
        )}
      />
      {p.withKeys ? (
        <>
          {p.onAir ? (
            <Key
              label=""
              accessibilityLabel="On air and next"
              icon={<Radio size={20} color={TONES.mist} />}
              onPress={p.onAir}
              style={styles.icon}
              testID="on-air"
            />
          ) : null}
          <Key
            label=""
            accessibilityLabel="Drive several"
            on={p.adding || p.also.length > 0}
            icon={<Layers size={20} color={TONES.mist} />}
            onPress={() => p.onAdding(!p.adding)}
            style={styles.icon}
            testID="several"
          />
          <Key
            label=""
            accessibilityLabel="All pictures"
            icon={<LayoutGrid size={20} color={TONES.mist} />}
            onPress={p.onAll}
            style={styles.icon}
            testID="all-pictures"
          />
        </>
      ) : null}
    </View>
  )
})

const styles = StyleSheet.create({
  rail: { flex: 1, gap: 8, minHeight: 0 },
  icon: { paddingHorizontal: 0 },
  strip: {
    flexDirection: 'row',
    gap: 6,
    height: STRIP,
    paddingHorizontal: 6,
    paddingVertical: 2,
    borderBottomWidth: 1,
    borderBottomColor: TONES.line,
  },
  compact: { height: COMPACT_STRIP, borderBottomWidth: 0 },
})
