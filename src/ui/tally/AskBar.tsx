/** "On air. Hold to do it all the same": a press does nothing, so that no slip moves a camera on air. */
import { useEffect, useRef, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'
import { ask, useAsked } from './asked'

const HOLD_MS = 700
const TICK_MS = 50

export function AskBar() {
  const asked = useAsked()
  const [held, setHeld] = useState(0)
  const timer = useRef<ReturnType<typeof setInterval> | null>(null)
  const end = () => {
    if (timer.current) clearInterval(timer.current)
    timer.current = null
    setHeld(0)
  }
  useEffect(
    () => () => {
      if (timer.current) clearInterval(timer.current)
    },
    [],
  )
  if (!asked) return null
  const onHold = (is: boolean) => {
    end()
    if (!is) return
    let [heldMs, lastMs] = [0, performance.now()]
    timer.current = setInterval(() => {
      const nowMs = performance.now()
      // A page that stalled may not have heard yet that the key was let go.
      heldMs += Math.min(nowMs - lastMs, 2 * TICK_MS)
      lastMs = nowMs
      const share = heldMs / HOLD_MS
      setHeld(share)
      if (share < 1) return
      end()
      ask(null)
      asked.act()
    }, TICK_MS)
  }
  return (
    <View style={styles.bar} testID="guard-asks" accessibilityRole="alert">
      <Words size={15} weight="semiBold" style={styles.words}>
        {asked.text}
      </Words>
      <View>
        <Key label="Hold" tone="filled" onHold={onHold} testID="guard-hold" />
        <View style={[styles.progress, { width: `${Math.min(100, held * 100)}%` }]} />
      </View>
      <Key label="Leave it" onPress={() => ask(null)} testID="guard-leave" />
    </View>
  )
}

const styles = StyleSheet.create({
  bar: {
    position: 'absolute',
    left: 6,
    right: 6,
    bottom: 6,
    zIndex: 3,
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    gap: 8,
    padding: 10,
    borderRadius: RADIUS.middle,
    borderWidth: 2,
    borderColor: TONES.air,
    backgroundColor: TONES.ink,
  },
  words: { flex: 1, minWidth: 160 },
  progress: {
    position: 'absolute',
    left: 0,
    bottom: 0,
    height: 4,
    backgroundColor: TONES.sand,
    pointerEvents: 'none',
  },
})
