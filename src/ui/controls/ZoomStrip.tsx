/** The zoom strip: push up for tele, down for wide, the farther the faster; it springs back to stop. */

import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { curveAt, DEFAULT_CURVE, shapeOne } from '../../core/stick/curve'
import { DEFAULT_FEEL } from '../../core/stick/shape'
import { useDescription } from '../basics/useDescription'
import { Words } from '../basics/Words'
import { sticks } from '../input/sticks'
import { useDrag } from '../input/useDrag'
import { RADIUS, TONES } from '../theme/tones'
import { web } from '../theme/web'

const HANDLE = 48
const respondTo = curveAt(DEFAULT_CURVE)

export function ZoomStrip({ height, enabled, text }: { height: number; enabled: boolean; text: string }) {
  const [push, setPush] = useState(0)
  const { described, description } = useDescription('Page up and page down zoom too.')
  const reach = (height - HANDLE) / 2 - 6
  const drag = useDrag({
    onMove({ y }) {
      if (!enabled) return
      const next = Math.max(-1, Math.min(1, (height / 2 - y) / reach))
      setPush(next)
      sticks.push('strip', { zoom: shapeOne(next, DEFAULT_FEEL.deadZone, respondTo) })
    },
    onEnd() {
      setPush(0)
      sticks.push('strip', null)
    },
  })
  const ticks = [0.2, 0.45, 0.7, 0.95]
  return (
    <View
      {...drag}
      testID="zoom-strip"
      role="slider"
      aria-label="Zoom"
      aria-orientation="vertical"
      aria-valuemin={-100}
      aria-valuemax={100}
      aria-valuenow={Math.round(push * 100)}
      aria-valuetext={text}
      {...described}
      style={[
        styles.strip,
        { height },
        !enabled && styles.off,
        web({ touchAction: 'none', userSelect: 'none', cursor: enabled ? 'ns-resize' : 'not-allowed' }),
      ]}
    >
      <Words size={12} tone="mist" style={styles.top}>
        in
      </Words>
      {ticks.flatMap((t) => [
        <View key={t} style={[styles.tick, { top: height / 2 - t * reach, width: 10 + t * 20 }]} />,
        <View key={-t} style={[styles.tick, { top: height / 2 + t * reach, width: 10 + t * 20 }]} />,
      ])}
      <View
        style={[styles.handle, { top: height / 2 - HANDLE / 2 - push * reach }, push !== 0 && styles.held]}
      >
        <Words size={14} weight="bold" style={styles.dark}>
          {text}
        </Words>
      </View>
      <Words size={12} tone="mist" style={styles.bottom}>
        out
      </Words>
      {description}
    </View>
  )
}

const styles = StyleSheet.create({
  strip: {
    width: 72,
    borderRadius: RADIUS.large + 6,
    backgroundColor: TONES.reed,
    borderWidth: 1,
    borderColor: TONES.line,
    alignItems: 'center',
  },
  off: { opacity: 0.4 },
  tick: { position: 'absolute', height: 1.5, backgroundColor: '#4A626A', pointerEvents: 'none' },
  top: { position: 'absolute', top: 6, pointerEvents: 'none' },
  bottom: { position: 'absolute', bottom: 6, pointerEvents: 'none' },
  handle: {
    position: 'absolute',
    left: 4,
    right: 4,
    height: HANDLE,
    borderRadius: RADIUS.large,
    backgroundColor: TONES.sand,
    alignItems: 'center',
    justifyContent: 'center',
    pointerEvents: 'none',
  },
  held: { backgroundColor: TONES.heron },
  dark: { color: TONES.ink },
})
