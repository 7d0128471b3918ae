/** The keys as they are now. */
import { StyleSheet, View } from 'react-native'
import { ACTION_NAMES, ACTIONS, keyOf, keyWord } from '../../core/controls/actions'
import { Sheet } from '../basics/Sheet'
import { Words } from '../basics/Words'
import { useControls } from '../input/controlsStore'
import { RADIUS, TONES } from '../theme/tones'

export function KeySheet({ onClose }: { onClose(): void }) {
  const { keys } = useControls()
  const rows = [
    ...ACTION_NAMES.map((name) => [keyWord(keyOf(name, keys)), ACTIONS[name].label] as const),
    ['0 – 9', 'Recall a preset by its number'] as const,
    ['Enter', 'End the number'] as const,
  ]
  return (
    <Sheet title="Keys" maxWidth={720} onClose={onClose} testID="key-sheet">
      <Words size={14} tone="mist">
        You can change them in Setup, under Controls. None acts while you type.
      </Words>
      <View style={styles.grid}>
        {rows
          .filter(([key]) => key !== '')
          .map(([key, label]) => (
            <View key={label} style={styles.row}>
              <View style={styles.key}>
                <Words size={14} weight="semiBold">
                  {key}
                </Words>
              </View>
              <Words size={14} style={styles.label}>
                {label}
              </Words>
            </View>
          ))}
      </View>
    </Sheet>
  )
}

const styles = StyleSheet.create({
  grid: { flexDirection: 'row', flexWrap: 'wrap', columnGap: 12, rowGap: 6 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 10, width: 320, minHeight: 34 },
  key: {
    minWidth: 82,
    alignItems: 'center',
    paddingVertical: 4,
    paddingHorizontal: 8,
    borderRadius: RADIUS.small,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.ink,
  },
  label: { flex: 1 },
})
