/** What a cue is called, when it is expected, how often it runs, and what else starts it. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import type { Cue, CueView } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { changeCue, dataOf, remove } from './edit'
import { NumberField } from './NumberField'

const TIME = /^([01]\d|2[0-3]):[0-5]\d$/

interface CueSheetProps {
  desk: DeskView
  cue: CueView
  onClose(): void
}

export function CueSheet({ desk, cue, onClose }: CueSheetProps) {
  const [draft, setDraft] = useState<Cue>(() => dataOf<'cue'>(cue))
  const [time, setTime] = useState(cue.expected ?? '')
  const set = (change: Partial<Cue>) => setDraft({ ...draft, ...change })
  const wrong = time !== '' && !TIME.test(time)
  const nameless = draft.name.trim() === ''
  const keep = async () => {
    if (await changeCue(cue, { ...draft, expected: time === '' ? null : time })) onClose()
  }
  return (
    <Sheet
      title={cue.name}
      onClose={onClose}
      testID="cue-sheet"
      foot={
        <>
          <Key
            label="Keep"
            tone="filled"
            disabled={wrong || nameless}
            onPress={() => void keep()}
            testID="keep-cue"
          />
          <Key
            label="Remove"
            onPress={() => void remove('cue', cue).then((gone) => gone && onClose())}
            testID="remove-cue"
          />
        </>
      }
    >
      <Field
        label="Name"
        value={draft.name}
        maxLength={60}
        onChangeText={(name) => set({ name })}
        problem={nameless ? 'A cue needs a name.' : null}
        testID="cue-name"
      />
      <Field
        label="Notes"
        value={draft.notes}
        maxLength={2000}
        onChangeText={(notes) => set({ notes })}
        testID="cue-notes"
      />
      <View style={styles.row}>
        <Field
          label="Expected at"
          value={time}
          placeholder="19:30"
          maxLength={5}
          onChangeText={setTime}
          problem={wrong ? 'Write the time as 19:30.' : null}
          testID="cue-time"
        />
        <NumberField
          label="Times (0: until stopped)"
          value={draft.times}
          least={0}
          most={999}
          whole
          onChange={(times) => set({ times })}
          testID="cue-times"
        />
      </View>
      <Toggle
        label="In the running order"
        value={draft.listed}
        onChange={(listed) => set({ listed })}
        testID="cue-listed"
      />
      <Choice
        label="Starts by itself when a camera"
        options={[
          { value: '', label: 'Never' },
          { value: 'program', label: 'Comes on air' },
          { value: 'off', label: 'Goes off air' },
          { value: 'preview', label: 'Comes to preview' },
        ]}
        value={draft.onTally?.state ?? ''}
        onChange={(state) =>
          set({
            onTally:
              state === ''
                ? null
                : {
                    camera: draft.onTally?.camera ?? desk.cameras[0]!.id,
                    state: state as 'program' | 'off' | 'preview',
                  },
          })
        }
      />
      {draft.onTally ? (
        <Choice
          label="Which camera"
          options={desk.cameras.map(({ id, number, name }) => ({ value: id, label: `${number} ${name}` }))}
          value={draft.onTally.camera}
          onChange={(camera) => draft.onTally && set({ onTally: { ...draft.onTally, camera } })}
        />
      ) : null}
    </Sheet>
  )
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 } })
