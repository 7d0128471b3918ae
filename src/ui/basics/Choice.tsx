/** One of a few. */
import { StyleSheet, View } from 'react-native'
import { Key } from './Key'
import { Words } from './Words'

interface ChoiceProps<T extends string | number> {
  label: string
  options: readonly { value: T; label: string }[]
  value: T
  onChange(value: T): void
  testID?: string
}

export function Choice<T extends string | number>({
  label,
  options,
  value,
  onChange,
  testID,
}: ChoiceProps<T>) {
  return (
    <View style={styles.choice} accessibilityRole="radiogroup" accessibilityLabel={label}>
      <Words size={13} tone="mist">
        {label}
      </Words>
      <View style={styles.options}>
        {options.map((option) => (
          <Key
            key={option.value}
            label={option.label}
            on={option.value === value}
            onPress={() => onChange(option.value)}
            testID={testID ? `${testID}-${option.value}` : undefined}
          />
        ))}
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  choice: { gap: 4 },
  options: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
})
