/** One cue: its times drawn, its steps, what the check says of it. */
import { useMemo, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { stateBefore } from '../../core/cues/before'
import type { Finding } from '../../core/cues/check'
import { predictCue } from '../../core/cues/predict'
import type { CueView } from '../../core/cues/show'
import { type Place, placeOf } from '../../core/cues/world'
import { worldFrom } from '../../core/cues/worldFrom'
import type { DeskView } from '../../server/api'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { live } from '../live/live'
import { CueSheet } from './CueSheet'
import { setCueState, useCueState } from './cueState'
import { changeStep } from './edit'
import { Findings } from './Findings'
import { start } from './runActions'
import { StepList } from './StepList'
import { StepSheet } from './StepSheet'
import { Timeline } from './Timeline'
import { endTaking, startTaking } from './taking'
import { useShow } from './useShow'

interface CuePageProps {
  desk: DeskView
  cue: CueView
  findings: readonly Finding[]
  checked: boolean
  again(): void
  narrow: boolean
  onOpen(cue: string, step: string | null): void
}

/** Where the cameras are now; read when the cue is opened or changed, not at each move of theirs. */
function placesNow(desk: DeskView): Map<string, Place> {
  const places = new Map<string, Place>()
  for (const { id } of desk.cameras) {
    const place = placeOf(live().fact('pose', id))
    if (place) places.set(id, place)
  }
  return places
}

export function CuePage({ desk, cue, findings, checked, again, narrow, onOpen }: CuePageProps) {
  const show = useShow()
  const { taking } = useCueState()
  const [step, setStep] = useState<string | null>(null)
  const [sheet, putSheet] = useState<'step' | 'new' | 'cue' | null>(null)
  const setSheet = (next: typeof sheet) => {
    // It stays with this cue, whatever is started meanwhile: what is being typed must not become keys of the page.
    if (next !== null) setCueState({ cue: cue.id })
    putSheet(next)
  }
  const prediction = useMemo(() => {
    const world = worldFrom(desk)
    const program = desk.cameras.find(({ id }) => live().fact('tally', id)?.state === 'program')?.id ?? null
    const now = { places: placesNow(desk), program, preview: null }
    return predictCue(world, cue, stateBefore(world, desk.show.cues, cue, now), cue.id, {
      fadeSeconds: desk.tally.switcher.fadeSeconds,
    })
  }, [desk, cue])
  const run = show.runs.find((one) => one.cue === cue.id && one.state === 'running') ?? null
  const mine = findings.filter((one) => one.cue === cue.id)
  const chosen = cue.steps.find(({ id }) => id === step) ?? null
  const isTaking = taking?.cue === cue.id
  const shift = (id: string, seconds: number) =>
    void changeStep(cue, id, (one) => ({
      ...one,
      start: {
        ...one.start,
        seconds: Math.max(0, Math.round((one.start.seconds + seconds) * 10) / 10),
      },
    }))
  return (
    <View style={styles.page} testID="cue-page">
      <View style={styles.head}>
        <View style={styles.title}>
          <Words size={20} weight="bold" numberOfLines={1}>
            {cue.name}
          </Words>
          <Words size={14} tone="mist" numberOfLines={2}>
            {[cue.expected, cue.notes].filter(Boolean).join(' · ') || 'No notes.'}
          </Words>
        </View>
        <Key label="Start" onPress={() => start(cue.id)} disabled={show.held} testID="start-cue" />
        <Key label="Settings" onPress={() => setSheet('cue')} testID="cue-settings" />
      </View>
      <Timeline
        desk={desk}
        cue={cue}
        prediction={prediction}
        findings={mine}
        selected={step}
        onSelect={(id) => {
          setStep(id)
          if (cue.steps.some((one) => one.id === id)) setSheet('step')
        }}
        onShift={shift}
        run={run}
        held={show.held}
        narrow={narrow}
      />
      <View style={styles.row}>
        <Key label="Add a step" tone="filled" onPress={() => setSheet('new')} testID="add-step" />
        <Key
          label={isTaking ? 'End recording' : 'Record what I do now'}
          on={isTaking}
          onPress={() => (isTaking ? endTaking() : startTaking(cue.id))}
          testID="take-steps"
        />
        {isTaking ? (
          <Words size={14} tone="mist" style={styles.grow}>
            Recalls and cuts that you make on this page’s Desk become steps. Come back here to end it.
          </Words>
        ) : null}
      </View>
      {mine.length > 0 ? (
        <Findings desk={desk} findings={mine} onOpen={onOpen} after={again} />
      ) : checked && cue.steps.length > 0 ? (
        <Words size={14} tone="mist" testID="sound">
          ✓ The check finds nothing wrong with this cue.
        </Words>
      ) : null}
      <StepList
        desk={desk}
        cue={cue}
        prediction={prediction}
        run={show.runs.find((one) => one.cue === cue.id) ?? null}
        onStep={(id) => {
          setStep(id)
          setSheet('step')
        }}
      />
      {sheet === 'cue' ? <CueSheet desk={desk} cue={cue} onClose={() => setSheet(null)} /> : null}
      {sheet === 'new' || (sheet === 'step' && chosen) ? (
        <StepSheet
          key={sheet === 'new' ? 'new' : step}
          desk={desk}
          cue={cue}
          step={sheet === 'new' ? null : chosen}
          atS={sheet === 'new' ? Math.round(prediction.seconds * 2) / 2 : 0}
          onClose={() => setSheet(null)}
        />
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  page: { gap: 12 },
  head: { flexDirection: 'row', alignItems: 'flex-start', gap: 8 },
  title: { flex: 1, gap: 2 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, alignItems: 'center' },
  grow: { flexShrink: 1, flexBasis: 240, flexGrow: 1 },
})
