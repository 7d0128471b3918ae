/** A line to type in, with its label, and what is wrong with what was typed. */
import {
  type StyleProp,
  StyleSheet,
  TextInput,
  type TextInputProps,
  View,
  type ViewStyle,
} from 'react-native'
import { useFocusRing } from '../input/useFocusRing'
import { FACES, RADIUS, TONES, TOUCH } from '../theme/tones'
import { web } from '../theme/web'
import { Words } from './Words'

interface FieldProps extends Omit<TextInputProps, 'style'> {
  style?: StyleProp<ViewStyle>
  label: string
  value: string
  onChangeText(text: string): void
  /** What is wrong, in words. */
  problem?: string | null
  hint?: string | null
  testID?: string
}

export function Field({ label, problem, hint, style, ...input }: FieldProps) {
  const { ring, handlers } = useFocusRing()
  return (
    <View style={[styles.field, web({ minHeight: 'auto' }), style]}>
      <Words size={13} tone="mist">
        {label}
      </Words>
      <TextInput
        {...input}
        {...handlers}
        accessibilityLabel={label}
        placeholderTextColor="#6C7F82"
        autoCapitalize="none"
        autoCorrect={false}
        style={[
          styles.input,
          ring && styles.focused,
          problem ? styles.wrong : null,
          web({ outlineStyle: 'none' }),
        ]}
      />
      {problem ? (
        <Words size={13} tone="clay">
          {problem}
        </Words>
      ) : hint ? (
        <Words size={13} tone="mist">
          {hint}
        </Words>
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  field: { gap: 4, flexGrow: 1, flexShrink: 1, flexBasis: 0, minWidth: 96 },
  input: {
    minHeight: TOUCH,
    width: '100%',
    paddingHorizontal: 12,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.ink,
    color: TONES.sand,
    fontFamily: FACES.regular,
    fontSize: 16,
  },
  focused: { borderColor: TONES.heron },
  wrong: { borderColor: TONES.clay },
})
