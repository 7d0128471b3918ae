/** The sheet of one preset: name it, store over it, delete it. */

import { useEffect, useRef } from 'react'
import { useForm } from 'react-hook-form'
import { Modal, Pressable, StyleSheet, TextInput, View } from 'react-native'
import type { PresetView } from '../../server/api'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { FACES, RADIUS, TONES, TOUCH } from '../theme/tones'
import { web } from '../theme/web'
import { overwrite, remove, rename } from './actions'

const LONGEST = 60

export function PresetSheet({ preset, onClose }: { preset: PresetView; onClose(): void }) {
  const { setValue, handleSubmit, watch } = useForm({ defaultValues: { name: preset.name } })
  const input = useRef<TextInput | null>(null)
  useEffect(() => {
    // After the sheet has opened, so that the name is ready to be typed over.
    const timer = setTimeout(() => {
      input.current?.focus()
      ;(input.current as unknown as HTMLInputElement | null)?.select?.()
    }, 60)
    return () => clearTimeout(timer)
  }, [])
  const save = handleSubmit(async ({ name }) => {
    if (await rename(preset, name)) onClose()
  })
  const name = watch('name')
  return (
    <Modal transparent animationType="none" onRequestClose={onClose}>
      <Pressable style={styles.veil} onPress={onClose} accessibilityLabel="Close" tabIndex={-1} />
      <View style={styles.place}>
        <View style={styles.sheet} accessibilityRole="none" testID="preset-sheet">
          <Words size={18} weight="bold">
            Preset {preset.number}
          </Words>
          <TextInput
            ref={input}
            testID="preset-name"
            accessibilityLabel="Name"
            value={name}
            maxLength={LONGEST}
            onChangeText={(text) => setValue('name', text)}
            onSubmitEditing={() => void save()}
            style={[styles.input, web({ outlineStyle: 'none' })]}
          />
          <View style={styles.row}>
            <Key
              label="Save name"
              tone="filled"
              disabled={name.trim() === ''}
              onPress={() => void save()}
              style={styles.grow}
              testID="save-name"
            />
            <Key label="Close" onPress={onClose} style={styles.grow} />
          </View>
          <View style={styles.rule} />
          <Key
            label="Store over it"
            testID="store-over"
            onPress={() => {
              onClose()
              void overwrite(preset)
            }}
          />
          <Key
            label="Delete"
            testID="delete-preset"
            onPress={() => {
              onClose()
              void remove(preset)
            }}
          />
          <Words size={13} tone="mist">
            Storing over and deleting can be undone.
          </Words>
        </View>
      </View>
    </Modal>
  )
}

const styles = StyleSheet.create({
  veil: { ...StyleSheet.absoluteFill, backgroundColor: 'rgba(6,10,11,0.7)' },
  place: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: 16, pointerEvents: 'box-none' },
  sheet: {
    width: '100%',
    maxWidth: 360,
    gap: 10,
    padding: 18,
    borderRadius: RADIUS.large,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.marsh,
  },
  input: {
    minHeight: TOUCH + 4,
    paddingHorizontal: 12,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.heron,
    backgroundColor: TONES.ink,
    color: TONES.sand,
    fontFamily: FACES.regular,
    fontSize: 17,
  },
  row: { flexDirection: 'row', gap: 10 },
  grow: { flex: 1 },
  rule: { height: 1, backgroundColor: TONES.line, marginVertical: 4 },
})
