/** One of a few: a group of radio buttons, walked through by the arrow keys. */
import { useRef } from 'react'
import { Pressable, StyleSheet, View } from 'react-native'
import { useFocusRing } from '../input/useFocusRing'
import { RADIUS, TONES, TOUCH } from '../theme/tones'
import { web } from '../theme/web'
import { Words } from './Words'

interface ChoiceProps<T extends string | number> {
  label: string
  options: readonly { value: T; label: string }[]
  /** Null: it is not known which. */
  value: T | null
  disabled?: boolean
  onChange(value: T): void
  testID?: string
}

const STEPS: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }

export function Choice<T extends string | number>(props: ChoiceProps<T>) {
  const { label, options, value, disabled = false, onChange, testID } = props
  const group = useRef<HTMLElement | null>(null)
  const chosen = options.findIndex((option) => option.value === value)
  const onKeyDown = (event: KeyboardEvent) => {
    const step = STEPS[event.key]
    if (step === undefined || disabled) return
    event.preventDefault()
    // The arrows belong to the focused control, not to the camera.
    event.stopPropagation()
    const next = (Math.max(0, chosen) + step + options.length) % options.length
    onChange(options[next]!.value)
    group.current?.querySelectorAll<HTMLElement>('[role="radio"]')[next]?.focus()
  }
  return (
    <View
      ref={group as never}
      style={styles.choice}
      accessibilityRole="radiogroup"
      accessibilityLabel={label}
      {...({ onKeyDown } as object)}
    >
      <Words size={13} tone="mist">
        {label}
      </Words>
      <View style={styles.options}>
        {options.map((option, i) => (
          <Radio
            key={option.value}
            label={option.label}
            on={i === chosen}
            reachable={i === Math.max(0, chosen)}
            disabled={disabled}
            onPress={() => onChange(option.value)}
            testID={testID ? `${testID}-${option.value}` : undefined}
          />
        ))}
      </View>
    </View>
  )
}

interface RadioProps {
  label: string
  on: boolean
  /** Tab stops at one of the group only. */
  reachable: boolean
  disabled: boolean
  onPress(): void
  testID: string | undefined
}

function Radio({ label, on, reachable, disabled, onPress, testID }: RadioProps) {
  const { ring, handlers } = useFocusRing()
  return (
    <Pressable
      {...handlers}
      onPress={onPress}
      disabled={disabled}
      role="radio"
      aria-checked={on}
      aria-disabled={disabled}
      tabIndex={reachable ? 0 : -1}
      testID={testID}
      style={[styles.radio, on && styles.on, ring && styles.focused, disabled && styles.disabled]}
    >
      <Words weight="semiBold" size={15} style={web({ userSelect: 'none' })} numberOfLines={1}>
        {label}
      </Words>
    </Pressable>
  )
}

const styles = StyleSheet.create({
  choice: { gap: 4 },
  options: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  radio: {
    minHeight: TOUCH,
    minWidth: TOUCH,
    paddingHorizontal: 12,
    borderRadius: RADIUS.large,
    borderWidth: 1,
    alignItems: 'center',
    justifyContent: 'center',
    backgroundColor: TONES.reed,
    borderColor: TONES.line,
  },
  on: { backgroundColor: TONES.heronFilled, borderColor: TONES.heron },
  focused: { outlineColor: TONES.sand, outlineWidth: 2, outlineStyle: 'solid', outlineOffset: 2 },
  disabled: { opacity: 0.45 },
})
