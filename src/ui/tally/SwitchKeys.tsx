/** Preview and Cut for the selected camera, beside what drives it. */
import { memo } from 'react'
import { StyleSheet, View } from 'react-native'
import type { CameraView, DeskView } from '../../server/api'
import { Key } from '../basics/Key'
import { preview, switchable, takeNext } from './next'
import { useTally } from './useTally'

interface SwitchKeysProps {
  desk: DeskView
  view: CameraView
  /** Beside each other; one below the other, as high as there is room; or the same, low. */
  as: 'row' | 'column' | 'low'
}

export const SwitchKeys = memo(function SwitchKeys({ desk, view, as }: SwitchKeysProps) {
  const state = useTally(view.id)
  const able = switchable(desk.tally)
  if (!able.cut) return null
  const airs = state === 'program'
  return (
    <View style={styles[as]} testID="switch-keys">
      <Key
        label="Preview"
        accessibilityLabel={`Camera ${view.number} on preview`}
        on={state === 'preview'}
        disabled={airs || !able.preview}
        onPress={() => void preview(view)}
        style={[styles.key, as === 'low' && styles.lowKey]}
        testID="preview-camera"
      />
      <Key
        label={airs ? 'On air' : 'Cut'}
        accessibilityLabel={airs ? `Camera ${view.number} is on air` : `Cut to camera ${view.number}`}
        tone="filled"
        disabled={airs}
        onPress={() => void takeNext(view, false)}
        style={[styles.key, as === 'low' && styles.lowKey]}
        testID="cut-camera"
      />
    </View>
  )
})

const styles = StyleSheet.create({
  row: { flexDirection: 'row', gap: 8 },
  column: { flexGrow: 2, flexShrink: 1, flexBasis: 0, gap: 8 },
  low: { gap: 4, justifyContent: 'center' },
  key: { flexGrow: 1, paddingHorizontal: 6 },
  lowKey: { flexGrow: 0, minHeight: 38, paddingHorizontal: 10 },
})
