/** A fault in a shape and words: what is wrong, and what to do. */
import TriangleAlert from 'lucide-react-native/icons/triangle-alert'
import type { ReactNode } from 'react'
import { type StyleProp, StyleSheet, View, type ViewStyle } from 'react-native'
import { RADIUS, TONES } from '../theme/tones'
import { Words } from './Words'

export function Advice({
  title,
  text,
  style,
  children,
}: {
  title: string
  text: string
  style?: StyleProp<ViewStyle>
  /** Keys that do what the text says. */
  children?: ReactNode
}) {
  return (
    <View style={[styles.box, style]} accessibilityRole="alert" testID="advice">
      <TriangleAlert size={22} color={TONES.clay} />
      <View style={styles.words}>
        <Words weight="bold" size={15} tone="clay">
          {title}
        </Words>
        <Words size={14}>{text}</Words>
        {children ? <View style={styles.keys}>{children}</View> : null}
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  box: {
    flexDirection: 'row',
    gap: 10,
    padding: 12,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.clay,
    backgroundColor: TONES.marsh,
  },
  words: { flex: 1, gap: 2 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, marginTop: 6 },
})
