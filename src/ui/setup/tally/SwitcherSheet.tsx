/** How the switcher is told what to do: one line for each thing, and the input of each camera. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import * as v from 'valibot'
import { lineProblem } from '../../../core/messages/line'
import { SWITCHER_ACTIONS, SWITCHER_LINES, Switcher, type SwitcherAction } from '../../../core/tally/switcher'
import type { CameraView } from '../../../server/api'
import { Field } from '../../basics/Field'
import { Key } from '../../basics/Key'
import { Sheet } from '../../basics/Sheet'
import { Toggle } from '../../basics/Toggle'
import { Words } from '../../basics/Words'

const LABELS: Record<SwitcherAction, string> = {
  preview: 'Put a camera on preview',
  cut: 'Cut',
  fade: 'Fade',
  monitor: 'Put a camera on a monitor',
}
const EXAMPLES: Record<SwitcherAction, string> = {
  preview: 'POST http://10.0.0.5/preview?input={input}',
  cut: 'TCP 10.0.0.5:9900 CUT\\r\\n',
  fade: 'OSC 10.0.0.5:8000 /fade f:{seconds}',
  monitor: 'UDP 10.0.0.5:9901 MON {input}',
}

interface SwitcherSheetProps {
  switcher: Switcher
  cameras: readonly CameraView[]
  /** @returns whether it was saved */
  onSave(switcher: Switcher): Promise<boolean>
  onClose(): void
}

export function SwitcherSheet({ switcher, cameras, onSave, onClose }: SwitcherSheetProps) {
  const [draft, setDraft] = useState(switcher)
  const [problem, setProblem] = useState<string | null>(null)
  const save = async () => {
    const inputs = Object.fromEntries(Object.entries(draft.inputs).filter(([, input]) => input.trim() !== ''))
    const parsed = v.safeParse(Switcher, { ...draft, inputs })
    if (!parsed.success) return setProblem(parsed.issues[0].message)
    setProblem(null)
    if (await onSave(parsed.output)) onClose()
  }
  return (
    <Sheet title="Switcher" onClose={onClose} testID="switcher-sheet">
      <View style={styles.body}>
        <Toggle
          label="The Desk may use the switcher"
          value={draft.enabled}
          onChange={(enabled) => setDraft({ ...draft, enabled })}
          testID="switcher-enabled"
        />
        {SWITCHER_ACTIONS.map((action) => {
          const text = draft[action] ?? ''
          return (
            <View key={action} style={styles.row}>
              <Field
                label={LABELS[action]}
                value={text}
                placeholder={EXAMPLES[action]}
                problem={text.trim() === '' ? null : lineProblem(text, SWITCHER_LINES[action])}
                onChangeText={(typed) => setDraft({ ...draft, [action]: typed.trim() === '' ? null : typed })}
                testID={`switcher-${action}`}
              />
            </View>
          )
        })}
        <View style={styles.row}>
          <Field
            label="A fade takes, seconds"
            value={String(draft.fadeSeconds)}
            inputMode="decimal"
            onChangeText={(text) => setDraft({ ...draft, fadeSeconds: Number(text) })}
            testID="switcher-fade-seconds"
          />
          <Field
            label="Program picture (MJPEG), if there is one"
            value={draft.pictureUrl ?? ''}
            placeholder="http://10.0.0.5/program.mjpg"
            onChangeText={(text) => setDraft({ ...draft, pictureUrl: text.trim() || null })}
            testID="switcher-picture"
          />
        </View>
        <Words size={16} weight="bold">
          Input of each camera
        </Words>
        <View style={styles.row}>
          {cameras.map(({ id, number, name }) => (
            <Field
              key={id}
              label={`${number} ${name}`}
              value={draft.inputs[id] ?? ''}
              onChangeText={(text) => setDraft({ ...draft, inputs: { ...draft.inputs, [id]: text } })}
              testID={`switcher-input-${number}`}
            />
          ))}
        </View>
        {problem ? <Words tone="clay">{problem}</Words> : null}
        <Key label="Save" tone="filled" onPress={() => void save()} testID="switcher-save" />
      </View>
    </Sheet>
  )
}

const styles = StyleSheet.create({
  body: { gap: 10 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
})
