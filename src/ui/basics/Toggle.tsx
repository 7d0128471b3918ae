/** Yes or no, with its word beside it. */
import Check from 'lucide-react-native/icons/check'
import { Pressable, StyleSheet, View } from 'react-native'
import { useFocusRing } from '../input/useFocusRing'
import { RADIUS, TONES, TOUCH } from '../theme/tones'
import { Words } from './Words'

interface ToggleProps {
  label: string
  value: boolean
  onChange(value: boolean): void
  testID?: string
}

export function Toggle({ label, value, onChange, testID }: ToggleProps) {
  const { ring, handlers } = useFocusRing()
  return (
    <Pressable
      {...handlers}
      onPress={() => onChange(!value)}
      accessibilityRole="checkbox"
      accessibilityLabel={label}
      aria-checked={value}
      testID={testID}
      style={[styles.toggle, ring && styles.focused]}
    >
      <View style={[styles.box, value && styles.on]}>
        {value ? <Check size={16} color={TONES.sand} strokeWidth={3} /> : null}
      </View>
      <Words size={15}>{label}</Words>
    </Pressable>
  )
}

const styles = StyleSheet.create({
  toggle: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: TOUCH, paddingRight: 10 },
  focused: { outlineColor: TONES.sand, outlineWidth: 2, outlineStyle: 'solid', borderRadius: RADIUS.small },
  box: {
    width: 24,
    height: 24,
    borderRadius: RADIUS.small,
    borderWidth: 1,
    borderColor: TONES.mist,
    alignItems: 'center',
    justifyContent: 'center',
    backgroundColor: TONES.ink,
  },
  on: { backgroundColor: TONES.heronFilled, borderColor: TONES.heron },
})
