/**
 * The bar over a helper's desk: its name, and the lock. Locked, the page fills the screen and is left only by
 * holding a key, so that no child leaves it by accident.
 */
import { Link } from 'expo-router'
import { useEffect, useRef, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { Help } from '../help/Help'
import { TONES } from '../theme/tones'
import { useLock } from './useLock'

const HOLD_MS = 2500

export function LockBar({ title, preview }: { title: string; preview: boolean }) {
  const { locked, full, lock, unlock, fill } = useLock()
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)
  const [holding, setHolding] = useState(false)
  const hold = (held: boolean) => {
    if (timer.current) clearTimeout(timer.current)
    timer.current = held ? setTimeout(unlock, HOLD_MS) : null
    setHolding(held)
  }
  useEffect(() => () => void (timer.current && clearTimeout(timer.current)), [])
  return (
    <View style={styles.bar} role="banner">
      <Words size={17} weight="bold" numberOfLines={1} style={styles.title}>
        {preview ? `${title}, as its helper sees it` : title}
      </Words>
      {preview && !locked ? (
        <Link href="/setup" style={styles.back}>
          <Words tone="heron" size={14}>
            Back to Setup
          </Words>
        </Link>
      ) : null}
      {locked && !full ? <Key label="Fill the screen" tone="filled" onPress={fill} testID="fill" /> : null}
      {locked ? null : <Help />}
      {locked ? (
        <Key label={holding ? 'Keep holding' : 'Hold to unlock'} tone="quiet" onHold={hold} testID="unlock" />
      ) : (
        <Key
          label="Lock"
          description="Fills the screen; left only by holding a key"
          onPress={lock}
          testID="lock"
        />
      )}
    </View>
  )
}

const styles = StyleSheet.create({
  bar: {
    ...{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', columnGap: 10, minHeight: 52 },
    ...{ paddingHorizontal: 12, paddingVertical: 4, backgroundColor: TONES.marsh },
    ...{ borderBottomWidth: 1, borderBottomColor: TONES.line },
  },
  title: { flex: 1, minWidth: 80 },
  back: { textDecorationLine: 'none' },
})
