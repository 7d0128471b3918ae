/** The thumb deck: zoom strip for one thumb, contour pad for the other, the lens keys between, the speed in reach. */
import { memo, type ReactNode, type RefObject, useEffect, useRef } from 'react'
import { StyleSheet, View } from 'react-native'
import { type ActionName, keyOf, keyWord } from '../../core/controls/actions'
import { feelFor } from '../../core/controls/controls'
import { can, isBlind } from '../../core/facts/capabilities'
import type { Pace } from '../../core/presets/pace'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { ContourPad } from '../controls/ContourPad'
import { Fader } from '../controls/Fader'
import { ZoomStrip } from '../controls/ZoomStrip'
import { changeFeel, useControls } from '../input/controlsStore'
import { sticks } from '../input/sticks'
import { useFactValue } from '../live/useFactValue'
import { useMe } from '../people/me'
import { goHome, order, setAutoFocus } from '../presets/actions'
import { TONES } from '../theme/tones'
import { KEY_COLUMN, SWITCH_COLUMN } from './arrangement'
import type { DeskCamera } from './useCamera'

const FOCUS_PUSH = 0.6
const LEAST_SPEED = 0.05
/** A wheel over near and far moves the focus for this long, ms. */
const WHEEL_MS = 70
const WHEEL_PUSH = 0.35

export interface DeckProps {
  camera: DeskCamera
  /** Side of the pad, px. */
  size: number
  busy: boolean
  /** Of what has no pace of its own. */
  toolPace: Pace | null
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

/** The pieces of the deck, to be put in any order. @param roomy keys have room for longer words */
function usePieces({ camera, busy, toolPace, onStore, onMore }: DeckProps, roomy: boolean) {
  const { lens, view, able } = camera
  const { data: me } = useMe()
  const mayDrive = me?.rights.includes('drive') ?? true
  const mayStore = me?.rights.includes('store') ?? true
  const enabled = camera.enabled && mayDrive
  // No finer than what is drawn of it.
  const pose = useFactValue(
    'pose',
    view.id,
    (p) =>
      p && {
        hfovDeg: p.hfovDeg === null ? null : Math.round(p.hfovDeg * 10) / 10,
        times: p.zoom === null ? null : lens.magnification(p.zoom).toFixed(1),
        focusAuto: p.focusAuto,
      },
    120,
  )
  const controls = useControls()
  const feel = feelFor(controls, view.id)
  const auto = pose?.focusAuto ?? true
  const focusWheel = useFocusWheel(enabled && !auto)
  const focus = (name: string, direction: number) => (held: boolean) =>
    sticks.push(name, held ? { focus: direction * FOCUS_PUSH } : null)
  const shortcut = (name: ActionName) => (roomy ? keyWord(keyOf(name, controls.keys)) || null : null)
  return {
    focusWheel,
    zoom: (height: number) => (
      <ZoomStrip height={height} enabled={enabled} text={pose?.times ? `${pose.times}×` : '–'} />
    ),
    pad: (size: number) =>
      mayDrive ? (
        <ContourPad
          size={size}
          hfovDeg={pose?.hfovDeg ?? null}
          camera={camera}
          feel={feel}
          enabled={enabled}
        />
      ) : (
        <View style={[styles.instead, { width: size, height: size }]}>
          <Words size={14} tone="mist" style={styles.centred}>
            You may not drive here. Ask an owner of this desk.
          </Words>
        </View>
      ),
    /** @param upright its height, px; null: across, as wide as there is room */
    speed: (upright: number | null, narrow = false) => (
      <Fader
        label="Speed"
        value={feel.speed}
        text={`${Math.round(feel.speed * 100)} %`}
        onChange={(value) => changeFeel(view.id, { speed: Math.max(LEAST_SPEED, value) })}
        upright={upright !== null}
        length={upright ?? undefined}
        narrow={narrow}
        testID="speed"
      />
    ),
    slow: (
      <Key
        label="Slow"
        description="Slow while held"
        shortcut={shortcut('slow')}
        onHold={(held) => sticks.setPace(held ? 'slow' : 'usual')}
        style={styles.key}
        testID="slow"
      />
    ),
    store: (
      <Key
        label={busy ? 'Storing' : 'Store'}
        tone="filled"
        shortcut={shortcut('store')}
        disabled={
          !camera.enabled || !mayStore || busy || (able !== null && isBlind(able) && able.memories === 0)
        }
        onPress={onStore}
        style={styles.key}
        testID="store"
      />
    ),
    autoFocus: (
      <Key
        label={roomy ? 'Auto focus' : 'Auto'}
        description={roomy ? undefined : 'Automatic focus'}
        shortcut={shortcut('autoFocus')}
        on={auto && enabled}
        disabled={!enabled || !pose || (able !== null && !can(able, 'focusMode'))}
        onPress={() => void setAutoFocus(view.id, !auto)}
        style={styles.key}
        testID="auto-focus"
      />
    ),
    near: (
      <Key
        label="Near"
        description="Focus nearer while held"
        disabled={!enabled || auto}
        onHold={focus('focus-near', -1)}
        style={styles.key}
        testID="focus-near"
      />
    ),
    far: (
      <Key
        label="Far"
        description="Focus farther while held"
        disabled={!enabled || auto}
        onHold={focus('focus-far', 1)}
        style={styles.key}
        testID="focus-far"
      />
    ),
    focusOnce: (
      <Key
        label="Focus once"
        shortcut={shortcut('focusOnce')}
        disabled={!enabled || !can(able, 'focusOnce')}
        onPress={() => void order({ t: 'focusOnce', camera: view.id })}
        style={styles.key}
        testID="focus-once-key"
      />
    ),
    home: (
      <Key
        label="Home"
        shortcut={shortcut('home')}
        disabled={!enabled || !can(able, 'home')}
        onPress={() => void goHome(view.id, toolPace)}
        style={styles.key}
        testID="home"
      />
    ),
    more: <Key label="More" onPress={onMore} style={styles.key} testID="more" />,
  }
}

const Line = ({ children }: { children: ReactNode }) => <View style={styles.line}>{children}</View>

/** Below the picture of a wide window: all keys at hand. @param apart the thumbs are at the edges @param roomy with the keyboard's keys */
export const WideDeck = memo(function WideDeck(props: DeckProps & { apart: boolean; roomy: boolean }) {
  const { size, apart } = props
  const p = usePieces(props, props.roomy)
  return (
    <View style={[styles.deck, apart ? styles.apart : styles.together]} testID="deck">
      {p.zoom(size)}
      <View style={[styles.keysWide, { height: size }]}>
        <Line>
          {p.store}
          {p.autoFocus}
        </Line>
        <View style={styles.line} ref={p.focusWheel}>
          {p.near}
          {p.far}
        </View>
        <Line>
          {p.focusOnce}
          {p.home}
        </Line>
        <Line>
          {p.slow}
          {p.more}
        </Line>
      </View>
      {p.speed(size)}
      {p.pad(size)}
    </View>
  )
})

/** At the bottom of a phone. @param small there is room for one row of keys alone */
export const PhoneDeck = memo(function PhoneDeck(
  props: DeckProps & {
    small: boolean
    /** Preview and Cut; null where nothing can be cut. */
    switchKeys: ReactNode
  },
) {
  const { size, small, switchKeys } = props
  const p = usePieces(props, false)
  return (
    <View testID="deck">
      <View style={styles.row} ref={small ? p.focusWheel : null}>
        {small ? (
          <>
            {p.store}
            {p.autoFocus}
            {p.near}
            {p.far}
            {p.more}
          </>
        ) : (
          <>
            <View style={styles.fader}>{p.speed(null, switchKeys !== null)}</View>
            <View style={switchKeys ? styles.smaller : styles.small}>{p.slow}</View>
            {switchKeys ? (
              <View style={styles.focus} ref={p.focusWheel}>
                {p.near}
                {p.far}
              </View>
            ) : null}
            <View style={switchKeys ? styles.smaller : styles.small}>{p.more}</View>
          </>
        )}
      </View>
      <View style={[styles.deck, styles.apart]}>
        {p.zoom(size)}
        {small && switchKeys ? <View style={[styles.keys, { height: size }]}>{switchKeys}</View> : null}
        {small ? null : switchKeys ? (
          <View style={[styles.keys, { height: size }]}>
            {p.store}
            {p.autoFocus}
            {switchKeys}
          </View>
        ) : (
          <View style={[styles.keys, { height: size }]} ref={p.focusWheel}>
            {p.store}
            {p.autoFocus}
            {p.near}
            {p.far}
          </View>
        )}
        {p.pad(size)}
      </View>
    </View>
  )
})

/** At the left of a low window. */
export const LeftDeck = memo(function LeftDeck(props: DeckProps & { height: number; withSpeed: boolean }) {
  const p = usePieces(props, false)
  return (
    <View style={styles.left}>
      {p.zoom(props.height)}
      {props.withSpeed ? p.speed(props.height) : null}
    </View>
  )
})

/** Beside a small pad five keys, as high as a thumb needs, stand closer: a window may be 280 px high. */
const gapOf = (size: number) => (size >= 5 * 44 + 4 * 6 ? 6 : 3)

/** At the right of a low window: the pad with its keys above it, or beside it. */
export const RightDeck = memo(function RightDeck(
  props: DeckProps & {
    beside: boolean
    /** Preview and Cut, beside the pad. */
    switchKeys: ReactNode
  },
) {
  const { size, beside, switchKeys } = props
  const p = usePieces(props, false)
  return beside ? (
    <View style={styles.rightBeside} testID="deck">
      <View style={[styles.column, { height: size, gap: gapOf(size) }]} ref={p.focusWheel}>
        {p.store}
        {p.autoFocus}
        {p.near}
        {p.far}
        {p.more}
      </View>
      {switchKeys ? <View style={[styles.switch, { height: size }]}>{switchKeys}</View> : null}
      {p.pad(size)}
    </View>
  ) : (
    <View style={[styles.right, { width: size }]} testID="deck">
      <View style={styles.rowOfKeys}>
        {p.store}
        {p.autoFocus}
      </View>
      <View style={styles.rowOfKeys} ref={p.focusWheel}>
        {p.near}
        {p.far}
      </View>
      <View style={styles.rowOfKeys}>
        {p.slow}
        {p.more}
      </View>
      {p.pad(size)}
    </View>
  )
})

const styles = StyleSheet.create({
  instead: { alignItems: 'center', justifyContent: 'center', borderWidth: 1, borderColor: TONES.line },
  centred: { textAlign: 'center', padding: 12 },
  deck: { flexDirection: 'row', gap: 10, paddingHorizontal: 12, paddingVertical: 8, alignSelf: 'stretch' },
  apart: { justifyContent: 'space-between' },
  together: { justifyContent: 'center', gap: 14 },
  keys: { gap: 8, flex: 1, maxWidth: 120 },
  keysWide: { gap: 8, flex: 1, maxWidth: 290 },
  line: { flex: 1, flexDirection: 'row', gap: 8 },
  key: { flex: 1, paddingHorizontal: 2 },
  row: { flexDirection: 'row', gap: 8, paddingHorizontal: 12, paddingTop: 8, height: 52 },
  rowOfKeys: { flexDirection: 'row', gap: 8, height: 44 },
  fader: { flex: 1 },
  small: { width: 76 },
  smaller: { width: 60 },
  focus: { width: 118, flexDirection: 'row', gap: 8 },
  switch: { width: SWITCH_COLUMN },
  left: { flexDirection: 'row', gap: 8 },
  right: { gap: 8 },
  rightBeside: { flexDirection: 'row', gap: 8 },
  column: { width: KEY_COLUMN, gap: 6 },
})
