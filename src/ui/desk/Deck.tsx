/** The thumb deck: zoom strip for one thumb, contour pad for the other, the lens keys between. */
import { StyleSheet, View } from 'react-native'
import { Key } from '../basics/Key'
import { ContourPad } from '../controls/ContourPad'
import { ZoomStrip } from '../controls/ZoomStrip'
import { sticks } from '../input/sticks'
import { goHome, setAutoFocus } from '../presets/actions'
import type { DeskCamera } from './useCamera'

const FOCUS_PUSH = 0.6

interface DeckProps {
  camera: DeskCamera
  /** Height of the pad, px. */
  size: number
  wide: boolean
  busy: boolean
  onStore(): void
}

export function Deck({ camera, size, wide, busy, onStore }: DeckProps) {
  const { pose, lens, enabled, view } = camera
  const wideHfovDeg = lens.hfovDeg(lens.wide)
  const auto = pose?.focusAuto ?? true
  const focus = (direction: number) => (held: boolean) =>
    sticks.push('focus', held ? { focus: direction * FOCUS_PUSH } : null)
  const zoomText = pose ? `${lens.magnification(pose.zoom).toFixed(1)}×` : '–'
  return (
    <View style={[styles.deck, wide && styles.wide]}>
      <ZoomStrip height={size} enabled={enabled} text={zoomText} />
      <View style={[styles.keys, { height: size }, wide && styles.keysWide]}>
        <Key
          label={busy ? 'Storing' : 'Store'}
          tone="filled"
          shortcut={wide ? 'S' : null}
          disabled={!enabled || busy || camera.able?.position === false}
          onPress={onStore}
          style={styles.key}
          testID="store"
        />
        <Key
          label={wide ? 'Auto focus' : 'Auto'}
          accessibilityLabel={`Auto focus ${auto ? 'on' : 'off'}`}
          shortcut={wide ? 'F' : null}
          on={auto && enabled}
          disabled={!enabled || !pose || camera.able?.focusMode === false}
          onPress={() => void setAutoFocus(view.id, !auto)}
          style={styles.key}
          testID="auto-focus"
        />
        <Key
          label="Near"
          accessibilityLabel="Focus nearer while held"
          disabled={!enabled || auto}
          onHold={focus(-1)}
          style={styles.key}
          testID="focus-near"
        />
        <Key
          label="Far"
          accessibilityLabel="Focus farther while held"
          disabled={!enabled || auto}
          onHold={focus(1)}
          style={styles.key}
          testID="focus-far"
        />
        {wide && camera.able?.home ? (
          <Key
            label="Home"
            shortcut="H"
            disabled={!enabled}
            onPress={() => void goHome(view.id)}
            style={styles.key}
            testID="home"
          />
        ) : null}
      </View>
      <ContourPad size={size} hfovDeg={pose?.hfovDeg ?? null} wideHfovDeg={wideHfovDeg} enabled={enabled} />
    </View>
  )
}

const styles = StyleSheet.create({
  deck: {
    flexDirection: 'row',
    gap: 10,
    paddingHorizontal: 12,
    paddingVertical: 8,
    justifyContent: 'space-between',
  },
  wide: { justifyContent: 'center', gap: 28 },
  keys: { gap: 8, flex: 1, maxWidth: 120 },
  keysWide: { maxWidth: 190 },
  key: { flex: 1 },
})
