/** One value on a track, set by a finger anywhere on it, by arrow keys, or by a wheel. */
import { useEffect, useRef } from 'react'
import { StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'
import { useDrag } from '../input/useDrag'
import { useFocusRing } from '../input/useFocusRing'
import { RADIUS, TONES, TOUCH } from '../theme/tones'
import { web } from '../theme/web'

interface FaderProps {
  label: string
  /** 0..1 */
  value: number
  onChange(value: number): void
  /** What is shown of the value. */
  text: string
  upright?: boolean
  /** Along the track, px; the whole width if omitted. */
  length?: number
  /** Its words below each other, where it is short. */
  narrow?: boolean
  testID?: string
}

const STEP = 0.05
const HANDLE = 36

export function Fader({
  label,
  value,
  onChange,
  text,
  upright = false,
  length,
  narrow = false,
  testID,
}: FaderProps) {
  const { ring, handlers } = useFocusRing()
  const element = useRef<HTMLElement | null>(null)
  const now = useRef({ value, onChange })
  now.current = { value, onChange }
  const set = (next: number) => now.current.onChange(Math.max(0, Math.min(1, next)))
  const drag = useDrag({
    onMove: ({ x, y, width, height }) =>
      set(upright ? 1 - (y - HANDLE / 2) / (height - HANDLE) : (x - HANDLE / 2) / (width - HANDLE)),
    onEnd: () => {},
  })
  useEffect(() => {
    const target = element.current
    if (!target) return
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      const next = now.current.value - Math.sign(event.deltaY) * STEP
      now.current.onChange(Math.max(0, Math.min(1, next)))
    }
    target.addEventListener('wheel', onWheel, { passive: false })
    return () => target.removeEventListener('wheel', onWheel)
  }, [])
  const keys: Record<string, number> = { ArrowUp: STEP, ArrowRight: STEP, ArrowDown: -STEP, ArrowLeft: -STEP }
  const onKeyDown = (event: { key: string; preventDefault(): void; stopPropagation(): void }) => {
    const by = keys[event.key]
    if (by === undefined) return
    event.preventDefault()
    // The arrows belong to the focused control, not to the camera.
    event.stopPropagation()
    set(value + by)
  }
  const percent = `${Math.round(value * 100)}%` as const
  return (
    <View
      ref={element as never}
      {...drag}
      {...handlers}
      {...({ onKeyDown } as object)}
      tabIndex={0}
      role="slider"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(value * 100)}
      aria-orientation={upright ? 'vertical' : 'horizontal'}
      aria-valuetext={text}
      testID={testID}
      style={[
        styles.track,
        upright ? { width: TOUCH + 8, height: length } : { height: TOUCH, width: length ?? '100%' },
        ring && styles.focused,
        web({
          touchAction: 'none',
          userSelect: 'none',
          cursor: upright ? 'ns-resize' : 'ew-resize',
          outlineStyle: 'none',
        }),
      ]}
    >
      <View
        style={[
          styles.fill,
          upright ? { height: percent, width: '100%', bottom: 0 } : { width: percent, height: '100%' },
        ]}
      />
      <View style={[styles.words, upright ? styles.column : narrow ? styles.narrow : styles.row]}>
        <Words size={12} tone="mist">
          {label}
        </Words>
        <Words size={14} weight="bold">
          {text}
        </Words>
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  track: {
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.marsh,
    overflow: 'hidden',
    justifyContent: 'center',
  },
  focused: { borderColor: TONES.heron },
  fill: { position: 'absolute', left: 0, backgroundColor: TONES.heronFilled },
  words: { pointerEvents: 'none', alignItems: 'center', justifyContent: 'space-between' },
  row: { flexDirection: 'row', paddingHorizontal: 12 },
  narrow: { alignItems: 'flex-start', paddingHorizontal: 8 },
  column: { flex: 1, paddingVertical: 10 },
})
