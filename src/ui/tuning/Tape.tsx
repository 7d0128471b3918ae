/**
 * A setting as a tape: its scale slides under a mark, with the trade's own values. Dragged, turned by the wheel or
 * the arrow keys; a finger that is drawn away from it turns finely; pressed twice it goes back to what is usual.
 */
import Pin from 'lucide-react-native/icons/pin'
import { useEffect, useRef, useState } from 'react'
import { Pressable, StyleSheet, View } from 'react-native'
import type { SettingSpec } from '../../core/picture/settings'
import { stepAt, stepped, stepsOf, valueText } from '../../core/picture/units'
import { Words } from '../basics/Words'
import { letGoOf, type SettingInHand, takeInHand } from '../input/inHand'
import { useDrag } from '../input/useDrag'
import { useFocusRing } from '../input/useFocusRing'
import { RADIUS, TONES, TOUCH } from '../theme/tones'
import { web } from '../theme/web'

type Range = Extract<SettingSpec, { kind: 'range' }>

interface TapeProps {
  spec: Range
  /** Null: the camera has not told it. */
  value: number | null
  /** Why it cannot be turned now. */
  closed: string | null
  /** A word beside its name. */
  hint?: string | null
  onTurn(value: number): void
  /** It stands on the Desk too. */
  pinned?: boolean
  onPin?: (() => void) | undefined
}

export const TAPE = 66
/** Between two labels, px. */
const LABELS_APART = 62
/** Of scales with many steps. */
const LEAST_STEP = 5
const FINE_FROM = 70
const FINE = 0.2
const COARSE = 5
const TWICE_MS = 350
/** What a hand has set stands until the camera tells it, ms. */
const HELD_MS = 1500

/** How far apart steps are, and every how many have a label. */
export function scaleOf(spec: Range): { px: number; every: number } {
  const steps = stepsOf(spec)
  if (steps <= 24) return { px: LABELS_APART, every: 1 }
  const px = Math.max(LEAST_STEP, Math.min(20, 1400 / steps))
  const every = [2, 5, 10, 20, 50, 100].find((n) => n * px >= LABELS_APART) ?? 100
  return { px, every }
}

/** The value of the whole step that is nearest. */
const atStep = (spec: Range, step: number) => stepped(spec, stepped(spec, spec.min, 0), Math.round(step))

export function Tape({ spec, value, closed, hint, onTurn, pinned, onPin }: TapeProps) {
  const { ring, handlers } = useFocusRing()
  const [held, setHeld] = useState<number | null>(null)
  const release = useRef<ReturnType<typeof setTimeout> | null>(null)
  const [width, setWidth] = useState(0)
  const element = useRef<HTMLElement | null>(null)
  const shown = held ?? value
  const { px, every } = scaleOf(spec)
  const steps = stepsOf(spec)
  const at = shown === null ? null : stepAt(spec, shown)
  const now = useRef({ shown, closed, onTurn, spec })
  now.current = { shown, closed, onTurn, spec }

  useEffect(() => () => clearTimeout(release.current ?? undefined), [])
  const hold = (next: number) => {
    if (now.current.closed || next === now.current.shown) return
    setHeld(next)
    now.current.shown = next
    takeThis()
    clearTimeout(release.current ?? undefined)
    release.current = setTimeout(() => setHeld(null), HELD_MS)
    now.current.onTurn(next)
  }
  const inHand = useRef<SettingInHand | null>(null)
  useEffect(
    () => () => {
      if (inHand.current) letGoOf(inHand.current)
    },
    [],
  )
  const by = (count: number) => {
    const from = now.current.shown
    if (from !== null) hold(stepped(now.current.spec, from, count))
  }

  const latest = useRef(by)
  latest.current = by
  const takeThis = () => {
    inHand.current ??= { steps, by: (count) => latest.current(count) }
    takeInHand(inHand.current)
  }

  const grip = useRef<{ x: number; step: number } | null>(null)
  const pressed = useRef({ atMs: 0, moved: false })
  const drag = useDrag({
    onMove: ({ x, y, height }) => {
      const from = now.current.shown
      if (now.current.closed || from === null) return
      const away = y < -FINE_FROM || y > height + FINE_FROM
      if (!grip.current) {
        const nowMs = performance.now()
        if (
          nowMs - pressed.current.atMs < TWICE_MS &&
          !pressed.current.moved &&
          typeof spec.usual === 'number'
        )
          hold(spec.usual)
        pressed.current = { atMs: nowMs, moved: false }
        grip.current = { x, step: stepAt(spec, now.current.shown ?? from) }
        return
      }
      const step = grip.current.step - ((x - grip.current.x) * (away ? FINE : 1)) / px
      if (Math.abs(x - grip.current.x) > 4) pressed.current.moved = true
      if (!pressed.current.moved) return
      grip.current = { x, step: Math.min(steps, Math.max(0, step)) }
      hold(atStep(spec, grip.current.step))
    },
    onEnd: () => {
      grip.current = null
    },
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: it reads what is current
  useEffect(() => {
    const target = element.current
    if (!target) return
    const onWheel = (event: WheelEvent) => {
      if (now.current.closed) return
      event.preventDefault()
      by(-Math.sign(event.deltaY + event.deltaX) * (event.shiftKey ? COARSE : 1))
    }
    target.addEventListener('wheel', onWheel, { passive: false })
    return () => target.removeEventListener('wheel', onWheel)
  }, [])
  const keys: Record<string, number> = {
    ...{ ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 },
    ...{ PageUp: COARSE, PageDown: -COARSE, Home: -1e6, End: 1e6 },
  }
  const onKeyDown = (event: KeyboardEvent) => {
    const count = keys[event.key]
    if (count === undefined) return
    event.preventDefault()
    event.stopPropagation()
    by(count * (event.shiftKey ? COARSE : 1))
  }

  const labels: number[] = []
  if (at !== null && width > 0) {
    const reach = width / 2 / px + every
    for (
      let i = Math.ceil(Math.max(0, at - reach) / every) * every;
      i <= Math.min(steps, at + reach);
      i += every
    )
      labels.push(i)
  }
  const words = shown === null ? 'not told' : valueText(spec, shown)
  return (
    <View style={[styles.tape, ring && styles.focused]} testID={`tape-${spec.key}`}>
      <View style={styles.top}>
        <Words size={14} weight="semiBold" tone={closed ? 'mist' : 'sand'} numberOfLines={1}>
          {spec.label}
        </Words>
        <Words size={12} tone="mist" numberOfLines={1} style={styles.hint} testID={`why-${spec.key}`}>
          {closed ?? hint ?? ''}
        </Words>
        {onPin ? (
          <Pressable
            onPress={onPin}
            style={styles.pin}
            accessibilityRole="button"
            accessibilityLabel={`${spec.label} on the Desk`}
            aria-pressed={!!pinned}
            testID={`pin-${spec.key}`}
          >
            <Pin size={15} color={pinned ? TONES.heron : TONES.line} />
          </Pressable>
        ) : null}
      </View>
      <View
        ref={element as never}
        {...drag}
        {...handlers}
        onFocus={(event) => {
          handlers.onFocus(event)
          if (!closed) takeThis()
        }}
        {...({ onKeyDown, tabIndex: closed ? -1 : 0 } as object)}
        onLayout={(event) => setWidth(event.nativeEvent.layout.width)}
        style={[
          styles.scale,
          web({ touchAction: 'pan-y', cursor: closed ? 'default' : 'ew-resize', userSelect: 'none' }),
        ]}
        role="slider"
        accessibilityLabel={spec.label}
        aria-valuetext={closed ? `${words}, ${closed}` : words}
        aria-valuemin={0}
        aria-valuemax={steps}
        aria-valuenow={at ?? 0}
        aria-disabled={closed !== null}
        testID={`slide-${spec.key}`}
      >
        {at !== null
          ? labels.map((i) => {
              const x = width / 2 + (i - at) * px
              const here = Math.abs(i - at) * px < LABELS_APART * 0.7
              return (
                <View key={i} style={[styles.label, { left: x - LABELS_APART / 2 }]}>
                  <View style={[styles.tick, closed ? styles.faint : null]} />
                  <Words size={13} tone="mist" numberOfLines={1} style={here ? styles.hidden : null}>
                    {valueText(spec, atStep(spec, i))}
                  </Words>
                </View>
              )
            })
          : null}
        <View style={[styles.mark, closed ? styles.faint : null]} />
        <View style={styles.now}>
          <Words
            size={16}
            weight="bold"
            tone={closed || shown === null ? 'mist' : 'sand'}
            numberOfLines={1}
            testID={`value-${spec.key}`}
          >
            {words}
          </Words>
        </View>
      </View>
    </View>
  )
}

/** What a double press goes back to, as it reads; null if nothing is usual. */
export const usualText = (spec: Range): string | null =>
  typeof spec.usual === 'number' ? valueText(spec, spec.usual) : null

const styles = StyleSheet.create({
  tape: {
    height: TAPE,
    backgroundColor: TONES.marsh,
    borderColor: TONES.line,
    borderWidth: 1,
    borderRadius: RADIUS.middle,
    overflow: 'hidden',
  },
  focused: { borderColor: TONES.heron },
  top: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingLeft: 10, height: 24 },
  hint: { flex: 1, textAlign: 'right', paddingRight: 8 },
  pin: { width: TOUCH, height: 24, alignItems: 'center', justifyContent: 'center' },
  scale: { flex: 1, overflow: 'hidden' },
  label: {
    position: 'absolute',
    top: 4,
    width: LABELS_APART,
    alignItems: 'center',
    gap: 5,
    pointerEvents: 'none',
  },
  tick: { width: 2, height: 7, backgroundColor: TONES.mist },
  faint: { opacity: 0.4 },
  hidden: { opacity: 0 },
  mark: {
    ...{ position: 'absolute', top: 0, left: '50%', marginLeft: -1.5, width: 3, height: 13 },
    ...{ backgroundColor: TONES.heron, pointerEvents: 'none' },
  },
  now: { position: 'absolute', top: 14, left: 0, right: 0, alignItems: 'center', pointerEvents: 'none' },
})
