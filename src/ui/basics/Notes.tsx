import TriangleAlert from 'lucide-react-native/icons/triangle-alert'
import X from 'lucide-react-native/icons/x'
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { RADIUS, TONES } from '../theme/tones'
import { Key } from './Key'
import { dismiss, type Note, useNotes } from './notes'
import { Words } from './Words'

function OneNote({ note }: { note: Note }) {
  return (
    <View
      style={[styles.note, note.tone === 'fault' && styles.fault]}
      accessibilityRole={note.tone === 'fault' ? 'alert' : 'none'}
      accessibilityLiveRegion="polite"
      testID="note"
    >
      {note.tone === 'fault' ? <TriangleAlert size={20} color={TONES.clay} /> : null}
      <Words size={15} style={styles.text}>
        {note.text}
      </Words>
      {note.actions.map(({ label, act }) => (
        <Key
          key={label}
          label={label}
          tone="filled"
          onPress={() => {
            dismiss(note.id)
            act()
          }}
        />
      ))}
      <Key
        label=""
        accessibilityLabel="Close this note"
        tone="quiet"
        icon={<X size={18} color={TONES.mist} />}
        style={styles.close}
        onPress={() => dismiss(note.id)}
      />
    </View>
  )
}

/** Where notes appear: over the presets, where they hide neither the picture nor the controls. */
export function Notes() {
  const notes = useNotes()
  return (
    <View style={styles.stack}>
      {notes.map((n) => (
        <OneNote key={n.id} note={n} />
      ))}
    </View>
  )
}

/** In a sheet, which lies over every other note: those that came since it was opened. */
export function NotesHere() {
  const notes = useNotes()
  const [old] = useState(() => new Set(notes.map((n) => n.id)))
  const fresh = notes.filter((n) => !old.has(n.id))
  if (fresh.length === 0) return null
  return (
    <View style={styles.here} testID="notes-here">
      {fresh.map((n) => (
        <OneNote key={n.id} note={n} />
      ))}
    </View>
  )
}

const styles = StyleSheet.create({
  here: { gap: 6, padding: 8 },
  stack: { position: 'absolute', left: 8, right: 8, bottom: 8, gap: 6, pointerEvents: 'box-none' },
  note: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    paddingLeft: 14,
    paddingRight: 4,
    paddingVertical: 5,
    borderRadius: RADIUS.large,
    borderWidth: 1,
    borderColor: TONES.heron,
    backgroundColor: TONES.reed,
    boxShadow: '0 6px 18px rgba(0,0,0,0.5)',
  },
  fault: { borderColor: TONES.clay },
  text: { flex: 1 },
  close: { paddingHorizontal: 0 },
})
