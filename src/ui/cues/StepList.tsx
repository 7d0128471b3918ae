/** The steps of a cue in words, in the order in which they begin, and what became of them. */
import { Pressable, StyleSheet, View } from 'react-native'
import type { RunNow } from '../../core/cues/now'
import type { Prediction } from '../../core/cues/predict'
import type { CueView } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import { Words } from '../basics/Words'
import { RADIUS, TONES, TOUCH } from '../theme/tones'
import { laneName, secondsText, startWords, stepWords } from './words'

const STATE = {
  waiting: '',
  running: '▶ running',
  done: '✓ done',
  failed: '△ failed',
  out: '– left out',
  stopped: 'stopped',
} as const

interface StepListProps {
  desk: DeskView
  cue: CueView
  prediction: Prediction
  run: RunNow | null
  onStep(id: string): void
}

export function StepList({ desk, cue, prediction, run, onStep }: StepListProps) {
  const startOf = (id: string) => prediction.steps.find(({ path }) => path.length === 1 && path[0] === id)
  const steps = [...cue.steps].sort((a, b) => (startOf(a.id)?.startS ?? 0) - (startOf(b.id)?.startS ?? 0))
  return (
    <View style={styles.list}>
      {steps.map((step) => {
        const { title, detail, lane } = stepWords(desk, step.does)
        const placed = startOf(step.id)
        const now = run?.steps.find(({ id }) => id === step.id)
        const became = now ? [STATE[now.state], now.why ?? now.said].filter(Boolean).join(': ') : ''
        const bad = now?.state === 'failed' || now?.state === 'out'
        return (
          <Pressable
            key={step.id}
            onPress={() => onStep(step.id)}
            accessibilityRole="button"
            style={styles.step}
            testID={`list-${step.id}`}
          >
            <Words size={15} weight="semiBold" style={styles.time}>
              {placed ? secondsText(placed.startS) : '–'}
            </Words>
            <View style={styles.text}>
              <Words size={15} numberOfLines={1}>
                {`${title}, ${detail || laneName(desk, lane)}`}
              </Words>
              <Words size={13} tone="mist" numberOfLines={1}>
                {[laneName(desk, lane), step.start.kind === 'after' ? startWords(desk, cue.steps, step) : '']
                  .filter(Boolean)
                  .join(' · ')}
              </Words>
              {became ? (
                <Words size={13} tone={bad ? 'clay' : 'mist'} testID={`became-${step.id}`}>
                  {became}
                </Words>
              ) : null}
            </View>
          </Pressable>
        )
      })}
    </View>
  )
}

const styles = StyleSheet.create({
  list: { gap: 4 },
  step: {
    flexDirection: 'row',
    gap: 12,
    minHeight: TOUCH,
    alignItems: 'center',
    paddingHorizontal: 12,
    paddingVertical: 6,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.marsh,
  },
  time: { width: 62 },
  text: { flex: 1, minWidth: 0 },
})
