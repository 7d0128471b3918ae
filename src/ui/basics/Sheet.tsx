/** A sheet over everything: it takes the keys for itself, and Escape closes it. */
import X from 'lucide-react-native/icons/x'
import type { ReactNode } from 'react'
import { Modal, Pressable, ScrollView, StyleSheet, View } from 'react-native'
import { RADIUS, TONES } from '../theme/tones'
import { Key } from './Key'
import { NotesHere } from './Notes'
import { Words } from './Words'

interface SheetProps {
  title: string
  onClose(): void
  children: ReactNode
  /** Keys at its foot, which stay while the rest is scrolled. */
  foot?: ReactNode
  maxWidth?: number
  testID?: string
}

export function Sheet({ title, onClose, children, foot, maxWidth = 620, testID }: SheetProps) {
  return (
    <Modal transparent animationType="none" onRequestClose={onClose} aria-label={title}>
      <Pressable style={styles.veil} onPress={onClose} aria-hidden tabIndex={-1} />
      <View style={styles.place}>
        <View style={[styles.sheet, { maxWidth }]} testID={testID}>
          <View style={styles.head}>
            <Words size={18} weight="bold" style={styles.title} numberOfLines={1}>
              {title}
            </Words>
            <Key
              label=""
              accessibilityLabel="Close"
              tone="quiet"
              icon={<X size={20} color={TONES.mist} />}
              onPress={onClose}
              testID="close-sheet"
            />
          </View>
          <ScrollView style={styles.scroll} contentContainerStyle={styles.body}>
            {children}
          </ScrollView>
          <NotesHere />
          {foot ? <View style={styles.foot}>{foot}</View> : null}
        </View>
      </View>
    </Modal>
  )
}

const styles = StyleSheet.create({
  veil: { ...StyleSheet.absoluteFill, backgroundColor: 'rgba(6,10,11,0.7)' },
  place: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: 10, pointerEvents: 'box-none' },
  sheet: {
    width: '100%',
    maxHeight: '100%',
    borderRadius: RADIUS.large,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.marsh,
    overflow: 'hidden',
  },
  head: { flexDirection: 'row', alignItems: 'center', paddingLeft: 16, paddingVertical: 4 },
  title: { flex: 1 },
  scroll: { flexShrink: 1 },
  body: { paddingHorizontal: 16, paddingBottom: 16, gap: 14 },
  foot: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    gap: 8,
    padding: 12,
    borderTopWidth: 1,
    borderTopColor: TONES.line,
  },
})
