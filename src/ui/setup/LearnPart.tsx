/** A camera learns its own head and lens: which steps, how far it is, and what came of it. */
import { useEffect, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import { LEARN_STEPS, type LearnStep } from '../../core/learning/learnt'
import type { CameraView } from '../../server/api'
import { readLearnt } from '../api/client'
import { Key } from '../basics/Key'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { useFact } from '../live/hooks'
import { order } from '../presets/actions'
import { RoundLines } from '../presets/RoundLines'
import { LearntSheet } from './LearntSheet'

const STEPS: Record<LearnStep, string> = {
  ends: 'Ends of its travel, 50 s',
  lens: 'Directions, angles and lens, 45 s',
  zoom: 'The whole zoom, 75 s',
  drives: 'Speeds and delay, 2½ min',
  rest: 'How exactly it comes back, 25 s',
}

export function LearnPart({ view, onUsed }: { view: CameraView; onUsed(): void }) {
  const [left, setLeft] = useState<readonly LearnStep[]>([])
  const [open, setOpen] = useState(false)
  const round = useFact('round', view.id)
  const running = round?.kind === 'learn' && round.state === 'running'
  const taken = round?.kind === 'learn' ? round.taken : 0
  const { data: seen, mutate } = useSWR(['learnt', view.id], () => readLearnt(view.id))
  // biome-ignore lint/correctness/useExhaustiveDependencies: each step that is done may have changed it.
  useEffect(() => void mutate(), [taken, running, mutate])
  const steps = LEARN_STEPS.filter((step) => !left.includes(step))
  const start = () => order({ t: 'startRound', camera: view.id, round: { kind: 'learn', steps } })
  return (
    <View style={styles.part} testID="learn-head">
      <Words size={13} tone="mist">
        The camera measures its own head and lens: it turns, zooms and looks for a few minutes, off air. Point
        it where there is detail that stands still, with the light on. A hand on it ends it.
      </Words>
      {running ? null : (
        <View style={styles.steps}>
          {LEARN_STEPS.map((step) => (
            <Toggle
              key={step}
              label={STEPS[step]}
              value={!left.includes(step)}
              onChange={(on) => setLeft(on ? left.filter((one) => one !== step) : [...left, step])}
              testID={`learn-${step}`}
            />
          ))}
        </View>
      )}
      <View style={styles.keys}>
        {running ? null : (
          <Key
            label="Learn the head"
            disabled={steps.length === 0}
            onPress={() => void told(async () => start())}
            testID="start-learning"
          />
        )}
        {seen ? (
          <Key label="See what it learnt" tone="filled" onPress={() => setOpen(true)} testID="see-learnt" />
        ) : null}
      </View>
      {round?.kind === 'learn' ? <RoundLines cameras={[view]} /> : null}
      {open && seen ? (
        <LearntSheet
          view={view}
          seen={seen}
          onClose={() => {
            setOpen(false)
            void mutate()
          }}
          onUsed={onUsed}
        />
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  part: { gap: 8 },
  steps: { gap: 4 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
})
