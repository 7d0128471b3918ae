/** The empty tile: drop the picture on it, or touch it, to store a new preset. */
import { useDroppable } from '@dnd-kit/core'
import Plus from 'lucide-react-native/icons/plus'
import { Pressable, StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'
import { useFocusRing } from '../input/useFocusRing'
import { useMay } from '../people/me'
import { RADIUS, TONES } from '../theme/tones'
import { web } from '../theme/web'

export const NEW_TILE = 'new'

export function NewTile({ width, dragging, onPress }: { width: number; dragging: boolean; onPress(): void }) {
  const { setNodeRef, isOver } = useDroppable({ id: NEW_TILE })
  const { ring, handlers } = useFocusRing()
  const mayStore = useMay('store')
  if (!mayStore) return null
  return (
    <Pressable
      ref={setNodeRef as unknown as React.Ref<View>}
      testID="tile-new"
      accessibilityRole="button"
      accessibilityLabel="Store a new preset here"
      onPress={onPress}
      {...handlers}
      style={[{ width, gap: 3 }, web({ outlineStyle: 'none' })]}
    >
      <View
        style={[
          styles.frame,
          { width, height: Math.round((width * 9) / 16) },
          (dragging || ring) && styles.target,
          isOver && styles.over,
        ]}
      >
        <Plus size={24} color={TONES.heron} />
      </View>
      <Words size={13} tone="mist" numberOfLines={1}>
        {dragging ? 'Drop to store' : 'New preset'}
      </Words>
    </Pressable>
  )
}

const styles = StyleSheet.create({
  frame: {
    borderRadius: RADIUS.small,
    borderWidth: 2,
    borderStyle: 'dashed',
    borderColor: TONES.line,
    alignItems: 'center',
    justifyContent: 'center',
  },
  target: { borderColor: TONES.heron },
  over: { backgroundColor: TONES.heronFilled, borderStyle: 'solid', borderColor: TONES.heron },
})
