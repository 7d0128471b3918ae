/** One entry of a list in Setup: its name, a line about it, and its keys. */
import type { ReactNode } from 'react'
import { StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'

interface ListCardProps {
  name: string
  about: string
  open: boolean
  children: ReactNode
  testID: string
}

export function ListCard({ name, about, open, children, testID }: ListCardProps) {
  return (
    <View style={[styles.card, open && styles.open]} testID={testID}>
      <View style={styles.words}>
        <Words size={16} weight="semiBold">
          {name}
        </Words>
        <Words size={13} tone="mist">
          {open ? `${about}, open` : about}
        </Words>
      </View>
      {children}
    </View>
  )
}

const styles = StyleSheet.create({
  card: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    gap: 8,
    padding: 10,
    paddingLeft: 14,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.marsh,
  },
  open: { borderColor: TONES.heron },
  words: { flex: 1, minWidth: 140 },
})
