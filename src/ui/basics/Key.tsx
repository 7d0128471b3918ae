/** A button: at least a thumb wide, with a visible focus. */
import type { ReactNode } from 'react'
import { Pressable, type StyleProp, StyleSheet, View, type ViewStyle } from 'react-native'
import { useFocusRing } from '../input/useFocusRing'
import { RADIUS, TONES, TOUCH } from '../theme/tones'
import { web } from '../theme/web'
import { useDescription } from './useDescription'
import { Words } from './Words'

interface KeyProps {
  label: string
  onPress?: () => void
  /** For keys that act while they are held. */
  onHold?: (held: boolean) => void
  /** Selected, or switched on. */
  on?: boolean
  disabled?: boolean
  icon?: ReactNode
  /** The keyboard's key for it, shown small. */
  shortcut?: string | null
  tone?: 'plain' | 'filled' | 'quiet'
  style?: StyleProp<ViewStyle>
  testID?: string
  /** For keys without a label. */
  accessibilityLabel?: string
  /** A description for screen readers. */
  description?: string
}

export function Key(props: KeyProps) {
  const { label, onPress, onHold, on, disabled, icon, shortcut, tone = 'plain', style, testID } = props
  const { ring, handlers } = useFocusRing()
  const { described, description } = useDescription(props.description)
  return (
    <Pressable
      testID={testID}
      accessibilityRole="button"
      accessibilityLabel={props.accessibilityLabel ?? (shortcut ? undefined : label)}
      {...({ 'aria-keyshortcuts': shortcut ?? undefined } as object)}
      {...described}
      accessibilityState={{ disabled: !!disabled, selected: !!on }}
      aria-pressed={on}
      disabled={disabled}
      onPress={onPress}
      onPressIn={() => onHold?.(true)}
      onPressOut={() => onHold?.(false)}
      onFocus={handlers.onFocus}
      onBlur={(event) => {
        handlers.onBlur(event)
        onHold?.(false)
      }}
      style={({ pressed }) => [
        styles.key,
        styles[tone],
        on && styles.on,
        pressed && styles.pressed,
        ring && styles.focused,
        disabled && styles.disabled,
        style,
      ]}
    >
      {icon}
      {label ? (
        <Words weight="semiBold" size={15} style={web({ userSelect: 'none' })} numberOfLines={1}>
          {label}
        </Words>
      ) : null}
      {shortcut ? (
        <View style={styles.shortcut} aria-hidden>
          <Words size={11} tone="mist">
            {shortcut}
          </Words>
        </View>
      ) : null}
      {description}
    </Pressable>
  )
}

const styles = StyleSheet.create({
  key: {
    minHeight: TOUCH,
    minWidth: TOUCH,
    paddingHorizontal: 12,
    borderRadius: RADIUS.large,
    borderWidth: 1,
    flexDirection: 'row',
    gap: 8,
    alignItems: 'center',
    justifyContent: 'center',
  },
  plain: { backgroundColor: TONES.reed, borderColor: TONES.line },
  filled: { backgroundColor: TONES.heronFilled, borderColor: TONES.heron },
  quiet: { backgroundColor: 'transparent', borderColor: 'transparent' },
  on: { backgroundColor: TONES.heronFilled, borderColor: TONES.heron },
  pressed: { backgroundColor: TONES.heronFilled, borderColor: TONES.sand },
  focused: { outlineColor: TONES.sand, outlineWidth: 2, outlineStyle: 'solid', outlineOffset: 2 },
  disabled: { opacity: 0.45 },
  shortcut: {
    borderWidth: 1,
    borderColor: TONES.line,
    borderRadius: 5,
    paddingHorizontal: 5,
    minWidth: 20,
    alignItems: 'center',
  },
})
