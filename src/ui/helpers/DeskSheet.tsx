/** A helper's desk: what stands on it. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { DESK_SIZES, type HelperDesk, type Part } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { Words } from '../basics/Words'
import { add, change, dataOf, remove } from '../cues/edit'

const SIZES: Record<(typeof DESK_SIZES)[number], string> = { large: 'Large', middle: 'Middle' }
const NEW: HelperDesk = { name: '', presets: [], cues: [], pad: null, size: 'large' }

interface DeskSheetProps {
  desk: DeskView
  /** Null: a new one. */
  helpers: Part<'desk'> | null
  onClose(): void
}

export function DeskSheet({ desk, helpers, onClose }: DeskSheetProps) {
  const [draft, setDraft] = useState<HelperDesk>(() => (helpers ? dataOf<'desk'>(helpers) : NEW))
  const set = (changed: Partial<HelperDesk>) => setDraft({ ...draft, ...changed })
  const toggled = (list: readonly string[], id: string, on: boolean) =>
    on ? [...list, id] : list.filter((one) => one !== id)
  const keep = async () => {
    const named = { ...draft, name: draft.name.trim() }
    const kept = helpers ? await change('desk', helpers, named) : await add('desk', named)
    if (kept) onClose()
  }
  return (
    <Sheet
      title={helpers ? helpers.name : 'Make a helper’s desk'}
      onClose={onClose}
      testID="desk-sheet"
      foot={
        <>
          <Key
            label="Keep"
            tone="filled"
            disabled={draft.name.trim() === ''}
            onPress={() => void keep()}
            testID="keep-desk"
          />
          {helpers ? (
            <Key
              label="Remove"
              onPress={() => {
                void remove('desk', helpers)
                onClose()
              }}
              testID="remove-desk"
            />
          ) : null}
        </>
      }
    >
      <Field
        label="Name"
        value={draft.name}
        maxLength={60}
        placeholder="Tables"
        onChangeText={(name) => set({ name })}
        testID="desk-name"
      />
      <Choice
        label="Buttons"
        options={DESK_SIZES.map((value) => ({ value, label: SIZES[value] }))}
        value={draft.size}
        onChange={(size) => set({ size })}
        testID="desk-size"
      />
      <Choice
        label="Pad"
        options={[
          { value: '', label: 'None' },
          ...desk.cameras.map(({ id, number, name }) => ({ value: id, label: `${number} ${name}` })),
        ]}
        value={draft.pad ?? ''}
        onChange={(id) => set({ pad: id === '' ? null : String(id) })}
        testID="desk-pad"
      />
      {desk.cameras.map((camera) => {
        const own = desk.presets.filter(({ cameraId }) => cameraId === camera.id)
        return own.length === 0 ? null : (
          <View key={camera.id}>
            <Words size={14} weight="semiBold">
              {camera.number} {camera.name}
            </Words>
            <View style={styles.row}>
              {own.map(({ id, number, name }) => (
                <Toggle
                  key={id}
                  label={`${number} ${name}`}
                  value={draft.presets.includes(id)}
                  onChange={(on) => set({ presets: toggled(draft.presets, id, on) })}
                  testID={`desk-preset-${name}`}
                />
              ))}
            </View>
          </View>
        )
      })}
      {desk.show.cues.length > 0 ? (
        <View>
          <Words size={14} weight="semiBold">
            Cues
          </Words>
          <View style={styles.row}>
            {desk.show.cues.map(({ id, name }) => (
              <Toggle
                key={id}
                label={name}
                value={draft.cues.includes(id)}
                onChange={(on) => set({ cues: toggled(draft.cues, id, on) })}
                testID={`desk-cue-${name}`}
              />
            ))}
          </View>
        </View>
      ) : null}
    </Sheet>
  )
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', flexWrap: 'wrap', columnGap: 14 } })
