/** The thumb deck: zoom strip for one thumb, contour pad for the other, the lens keys between, the speed in reach. */

import { memo, type RefObject, useEffect, useRef } from 'react'
import { StyleSheet, View } from 'react-native'
import { keyOf, keyWord } from '../../core/controls/actions'
import { feelFor } from '../../core/controls/controls'
import { can } from '../../core/facts/capabilities'
import { DEFAULT_FEEL } from '../../core/stick/shape'
import { Key } from '../basics/Key'
import { ContourPad } from '../controls/ContourPad'
import { Fader } from '../controls/Fader'
import { ZoomStrip } from '../controls/ZoomStrip'
import { changeFeel, useControls } from '../input/controlsStore'
import { sticks } from '../input/sticks'
import { useFactValue } from '../live/useFactValue'
import { goHome, order, setAutoFocus } from '../presets/actions'
import type { DeskCamera } from './useCamera'

const FOCUS_PUSH = 0.6
const LEAST_SPEED = 0.05
/** A wheel over near and far moves the focus for this long, ms. */
const WHEEL_MS = 70
const WHEEL_PUSH = 0.35

interface DeckProps {
  camera: DeskCamera
  /** Height of the pad, px. */
  size: number
  wide: boolean
  busy: boolean
  onStore(): void
  onMore(): void
}

/** A wheel turned over an element moves the focus, away from the operator for farther. */
function useFocusWheel(enabled: boolean): RefObject<View | null> {
  const ref = useRef<View | null>(null)
  useEffect(() => {
    const element = ref.current as unknown as HTMLElement | null
    if (!element || !enabled) return
    let timer: ReturnType<typeof setTimeout> | null = null
    const rest = () => sticks.push('focus-wheel', null)
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      if (timer) clearTimeout(timer)
      sticks.push('focus-wheel', { focus: -Math.sign(event.deltaY) * WHEEL_PUSH })
      timer = setTimeout(rest, WHEEL_MS)
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => {
      if (timer) clearTimeout(timer)
      rest()
      element.removeEventListener('wheel', onWheel)
    }
  }, [enabled])
  return ref
}

export const Deck = memo(function Deck({ camera, size, wide, busy, onStore, onMore }: DeckProps) {
  const { lens, enabled, view, able } = camera
  // No finer than what is drawn of it.
  const pose = useFactValue(
    'pose',
    view.id,
    (p) =>
      p && {
        hfovDeg: Math.round(p.hfovDeg * 10) / 10,
        times: lens.magnification(p.zoom).toFixed(1),
        focusAuto: p.focusAuto,
      },
    120,
  )
  const controls = useControls()
  const feel = feelFor(controls, view.id)
  const wideHfovDeg = lens.hfovDeg(lens.wide)
  const auto = pose?.focusAuto ?? true
  const focusWheel = useFocusWheel(enabled && !auto)
  const hand = (name: string, direction: number) => (held: boolean) =>
    sticks.push(name, held ? { focus: direction * FOCUS_PUSH } : null)
  const shortcut = (name: Parameters<typeof keyOf>[0]) =>
    wide ? keyWord(keyOf(name, controls.keys)) || null : null
  const zoomText = pose ? `${pose.times}×` : '–'
  const speed = (
    <Fader
      label="Speed"
      value={feel.speed}
      text={`${Math.round(feel.speed * 100)} %`}
      onChange={(value) => changeFeel(view.id, { speed: Math.max(LEAST_SPEED, value) })}
      upright={wide}
      length={wide ? size : undefined}
      testID="speed"
    />
  )
  const slow = (
    <Key
      label="Slow"
      accessibilityLabel="Slow while held"
      shortcut={shortcut('slow')}
      onHold={(held) => sticks.setPace(held ? 'slow' : 'usual')}
      style={styles.key}
      testID="slow"
    />
  )
  const store = (
    <Key
      label={busy ? 'Storing' : 'Store'}
      tone="filled"
      shortcut={shortcut('store')}
      disabled={!enabled || busy || (able?.position === false && able.memories === 0)}
      onPress={onStore}
      style={styles.key}
      testID="store"
    />
  )
  const autoFocus = (
    <Key
      label={wide ? 'Auto focus' : 'Auto'}
      accessibilityLabel={`Auto focus ${auto ? 'on' : 'off'}`}
      shortcut={shortcut('autoFocus')}
      on={auto && enabled}
      disabled={!enabled || !pose || (able !== null && !can(able, 'focusMode'))}
      onPress={() => void setAutoFocus(view.id, !auto)}
      style={styles.key}
      testID="auto-focus"
    />
  )
  const near = (
    <Key
      label="Near"
      accessibilityLabel="Focus nearer while held"
      disabled={!enabled || auto}
      onHold={hand('focus-near', -1)}
      style={styles.key}
      testID="focus-near"
    />
  )
  const far = (
    <Key
      label="Far"
      accessibilityLabel="Focus farther while held"
      disabled={!enabled || auto}
      onHold={hand('focus-far', 1)}
      style={styles.key}
      testID="focus-far"
    />
  )
  const more = <Key label="More" onPress={onMore} style={styles.key} testID="more" />
  const keys = wide ? (
    <View style={[styles.keysWide, { height: size }]}>
      <View style={styles.line}>
        {store}
        {autoFocus}
      </View>
      <View style={styles.line} ref={focusWheel}>
        {near}
        {far}
      </View>
      <View style={styles.line}>
        <Key
          label="Focus once"
          shortcut={shortcut('focusOnce')}
          disabled={!enabled || !can(able, 'focusOnce')}
          onPress={() => void order({ t: 'focusOnce', camera: view.id })}
          style={styles.key}
          testID="focus-once-key"
        />
        <Key
          label="Home"
          shortcut={shortcut('home')}
          disabled={!enabled || !can(able, 'home')}
          onPress={() => void goHome(view.id)}
          style={styles.key}
          testID="home"
        />
      </View>
      <View style={styles.line}>
        {slow}
        {more}
      </View>
    </View>
  ) : (
    <View style={[styles.keys, { height: size }]} ref={focusWheel}>
      {store}
      {autoFocus}
      {near}
      {far}
    </View>
  )
  return (
    <View>
      {wide ? null : (
        <View style={styles.speedRow}>
          <View style={styles.fader}>{speed}</View>
          <View style={styles.small}>{slow}</View>
          <View style={styles.small}>{more}</View>
        </View>
      )}
      <View style={[styles.deck, wide && styles.wide]}>
        <ZoomStrip height={size} enabled={enabled} text={zoomText} />
        {keys}
        {wide ? speed : null}
        <ContourPad
          size={size}
          hfovDeg={pose?.hfovDeg ?? null}
          wideHfovDeg={wideHfovDeg}
          topDegPerSec={DEFAULT_FEEL.topDegPerSec * feel.speed * feel.pan}
          enabled={enabled}
        />
      </View>
    </View>
  )
})

const styles = StyleSheet.create({
  deck: {
    flexDirection: 'row',
    gap: 10,
    paddingHorizontal: 12,
    paddingVertical: 8,
    justifyContent: 'space-between',
  },
  wide: { justifyContent: 'center', gap: 18 },
  keys: { gap: 8, flex: 1, maxWidth: 120 },
  keysWide: { gap: 8, width: 270 },
  line: { flex: 1, flexDirection: 'row', gap: 8 },
  key: { flex: 1, paddingHorizontal: 8 },
  speedRow: { flexDirection: 'row', gap: 8, paddingHorizontal: 12, paddingTop: 8 },
  fader: { flex: 1 },
  small: { width: 74 },
})
