/** A step, new or changed: what it does, and when. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { type CueView, STEP_KINDS, type Step, type StepDoes, type StepKind } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import { Choice } from '../basics/Choice'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { changeCue, newStepId, withoutStep } from './edit'
import { NumberField } from './NumberField'
import { isWhole, newDoes, StepFields } from './StepFields'
import { stepWords } from './words'

interface StepSheetProps {
  desk: DeskView
  cue: CueView
  /** Null: a new one. */
  step: Step | null
  /** Where a new one begins, s. */
  atS: number
  onClose(): void
}

const KINDS = Object.entries(STEP_KINDS).map(([value, { label }]) => ({ value: value as StepKind, label }))

export function StepSheet({ desk, cue, step, atS, onClose }: StepSheetProps) {
  const [does, setDoes] = useState<StepDoes>(() => step?.does ?? newDoes(desk, 'recall'))
  const [start, setStart] = useState<Step['start']>(() => step?.start ?? { kind: 'at', seconds: atS })
  const others = cue.steps.filter(({ id }) => id !== step?.id)
  const keep = async () => {
    const kept: Step = { id: step?.id ?? newStepId(cue.steps), start, does }
    const steps = step ? cue.steps.map((one) => (one.id === step.id ? kept : one)) : [...cue.steps, kept]
    if (await changeCue(cue, { steps })) onClose()
  }
  const twice = async () => {
    if (!step) return
    const again = { ...step, id: newStepId(cue.steps), start }
    if (await changeCue(cue, { steps: [...cue.steps, again] })) onClose()
  }
  const drop = async () => {
    if (step && (await changeCue(cue, { steps: withoutStep(cue, step.id) }))) onClose()
  }
  return (
    <Sheet
      title={step ? stepWords(desk, step.does).title : 'New step'}
      onClose={onClose}
      testID="step-sheet"
      foot={
        <>
          <Key
            label="Keep"
            tone="filled"
            disabled={!isWhole(does)}
            onPress={() => void keep()}
            testID="keep-step"
          />
          {step ? (
            <>
              <Key label="Duplicate" onPress={() => void twice()} />
              <Key label="Remove" onPress={() => void drop()} testID="remove-step" />
            </>
          ) : null}
        </>
      }
    >
      <Choice
        label="What it does"
        options={KINDS}
        value={does.t}
        onChange={(t) => setDoes(newDoes(desk, t))}
        testID="step-kind"
      />
      <StepFields desk={desk} does={does} onChange={setDoes} />
      <Choice
        label="When"
        options={[
          { value: 'at', label: 'From the start of the cue' },
          { value: 'after', label: 'After another step' },
        ]}
        value={start.kind}
        onChange={(kind) =>
          setStart(kind === 'at' ? { kind, seconds: atS } : { kind, step: others[0]?.id ?? '', seconds: 0 })
        }
        testID="step-when"
      />
      {start.kind === 'after' ? (
        <Choice
          label="After the end of"
          options={others.map(({ id, does: other }) => ({ value: id, label: stepWords(desk, other).title }))}
          value={start.step}
          onChange={(id) => setStart({ ...start, step: id })}
          testID="step-after"
        />
      ) : null}
      <View style={styles.row}>
        <NumberField
          label={start.kind === 'at' ? 'At, seconds' : 'So many seconds later'}
          value={start.seconds}
          least={0}
          most={14_400}
          onChange={(seconds) => setStart({ ...start, seconds })}
          testID="step-at"
        />
      </View>
    </Sheet>
  )
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', maxWidth: 220 } })
