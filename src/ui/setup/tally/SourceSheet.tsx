/** One tally source: how it is heard, what its lamps mean, and which camera is which address. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import * as v from 'valibot'
import { TALLY_KINDS, TallySource } from '../../../core/tally/sources'
import type { CameraView, TallyView } from '../../../server/api'
import { Choice } from '../../basics/Choice'
import { Field } from '../../basics/Field'
import { Key } from '../../basics/Key'
import { Sheet } from '../../basics/Sheet'
import { Toggle } from '../../basics/Toggle'
import { Words } from '../../basics/Words'
import { CameraMap } from './CameraMap'
import { MeaningFields } from './MeaningFields'
import { KIND_WORDS, ofKind } from './sourceDraft'

interface SourceSheetProps {
  source: TallySource
  cameras: readonly CameraView[]
  heard: TallyView['sources'][number] | null
  /** @returns whether it was saved */
  onSave(source: TallySource): Promise<boolean>
  onDelete: (() => void) | null
  onClose(): void
}

const KINDS = TALLY_KINDS.map((value) => ({ value, label: KIND_WORDS[value].label }))
const WRONG = 'Give a name, a port from 1024 to 65535, and paths that begin with “/”.'

export function SourceSheet({ source, cameras, heard, onSave, onDelete, onClose }: SourceSheetProps) {
  const [draft, setDraft] = useState(source)
  const [problem, setProblem] = useState<string | null>(null)
  const save = async () => {
    const parsed = v.safeParse(TallySource, draft)
    if (!parsed.success) return setProblem(WRONG)
    setProblem(null)
    if (await onSave(parsed.output)) onClose()
  }
  const port = 'port' in draft ? draft.port : undefined
  return (
    <Sheet title="Tally source" onClose={onClose}>
      <View style={styles.body}>
        <Choice
          label="Kind"
          options={KINDS}
          value={draft.kind}
          onChange={(kind) => setDraft(ofKind(kind, draft, port))}
          testID="tally-kind"
        />
        <Words size={13} tone="mist">
          {KIND_WORDS[draft.kind].about}
        </Words>
        <View style={styles.row}>
          <Field
            label="Name"
            value={draft.name}
            onChangeText={(name) => setDraft({ ...draft, name })}
            testID="tally-name"
          />
          {draft.kind === 'tsl31-serial' ? (
            <Field
              label="Serial port"
              value={draft.path}
              onChangeText={(path) => setDraft({ ...draft, path })}
              testID="tally-path"
            />
          ) : (
            <Field
              label="Port of this computer"
              value={Number.isFinite(draft.port) ? String(draft.port) : ''}
              inputMode="numeric"
              onChangeText={(text) => setDraft({ ...draft, port: Number.parseInt(text, 10) })}
              testID="tally-port"
            />
          )}
        </View>
        <MeaningFields source={draft} onChange={setDraft} />
        <Field
          label="Silent after, seconds"
          value={draft.silentAfterSeconds === null ? '' : String(draft.silentAfterSeconds)}
          hint="Left empty, its own rhythm tells."
          inputMode="decimal"
          onChangeText={(text) =>
            setDraft({ ...draft, silentAfterSeconds: text.trim() === '' ? null : Number(text) })
          }
          testID="tally-silent-after"
        />
        <Toggle
          label="Listen to this source"
          value={draft.enabled}
          onChange={(enabled) => setDraft({ ...draft, enabled })}
          testID="tally-enabled"
        />
        <Words size={16} weight="bold">
          Cameras
        </Words>
        <CameraMap
          cameras={cameras}
          map={draft.cameras}
          heard={heard?.addresses ?? null}
          onChange={(map) => setDraft((now) => ({ ...now, cameras: map }))}
        />
        {problem ? <Words tone="clay">{problem}</Words> : null}
      </View>
      <View style={styles.row}>
        <Key label="Save" tone="filled" onPress={() => void save()} testID="tally-save" />
        {onDelete ? <Key label="Remove" onPress={onDelete} testID="tally-remove" /> : null}
      </View>
    </Sheet>
  )
}

const styles = StyleSheet.create({
  body: { gap: 10, paddingBottom: 10 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, paddingTop: 6 },
})
