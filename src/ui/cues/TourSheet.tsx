/** A tour: its camera, where it goes, how long it stays, how often. */
import X from 'lucide-react-native/icons/x'
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import type { Part, Tour } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { Words } from '../basics/Words'
import { TONES } from '../theme/tones'
import { add, change, dataOf } from './edit'
import { NumberField } from './NumberField'

interface TourSheetProps {
  desk: DeskView
  /** Null: a new one. */
  tour: Part<'tour'> | null
  onClose(): void
}

const STAYS_S = 8
const MOVES_S = 6

function newTour(desk: DeskView): Tour {
  const camera = desk.cameras.find(({ id }) => desk.presets.some((p) => p.cameraId === id))?.id ?? ''
  return { name: 'Tour', camera, stops: [], shuffled: false, rounds: 0, onAir: 'wait' }
}

export function TourSheet({ desk, tour, onClose }: TourSheetProps) {
  const [draft, setDraft] = useState<Tour>(() => (tour ? dataOf<'tour'>(tour) : newTour(desk)))
  const set = (changed: Partial<Tour>) => setDraft({ ...draft, ...changed })
  const presets = desk.presets.filter((p) => p.cameraId === draft.camera)
  const first = draft.stops[0]
  const [stays, moves] = [
    first?.dwellSeconds ?? STAYS_S,
    first?.pace.kind === 'timed' ? first.pace.seconds : MOVES_S,
  ]
  const all = (changed: { dwellSeconds?: number; seconds?: number }) =>
    set({
      stops: draft.stops.map((stop) => ({
        ...stop,
        ...(changed.dwellSeconds === undefined ? {} : { dwellSeconds: changed.dwellSeconds }),
        ...(changed.seconds === undefined ? {} : { pace: { kind: 'timed', seconds: changed.seconds } }),
      })),
    })
  const addStop = (preset: string) =>
    set({
      stops: [...draft.stops, { preset, dwellSeconds: stays, pace: { kind: 'timed', seconds: moves } }],
    })
  const right = draft.name.trim() !== '' && draft.stops.length > 0
  const keep = async () => {
    const kept = tour ? await change('tour', tour, draft) : await add('tour', draft)
    if (kept) onClose()
  }
  return (
    <Sheet
      title={tour ? tour.name : 'New tour'}
      onClose={onClose}
      testID="tour-sheet"
      foot={
        <Key label="Keep" tone="filled" disabled={!right} onPress={() => void keep()} testID="keep-tour" />
      }
    >
      <Field
        label="Name"
        value={draft.name}
        maxLength={60}
        onChangeText={(name) => set({ name })}
        testID="tour-name"
      />
      <Choice
        label="Camera"
        options={desk.cameras.map(({ id, number, name }) => ({ value: id, label: `${number} ${name}` }))}
        value={draft.camera}
        onChange={(camera) => set({ camera, stops: [] })}
        testID="tour-camera"
      />
      <Words size={13} tone="mist">
        {draft.stops.length === 0
          ? 'Touch the presets in the order in which they come. Two of them make a sweep.'
          : 'It goes to'}
      </Words>
      <View style={styles.row}>
        {draft.stops.map(({ preset }, i) => (
          <Key
            key={`${preset} ${i}`}
            label={`${i + 1} ${desk.presets.find(({ id }) => id === preset)?.name ?? 'gone'}`}
            accessibilityLabel={`Remove stop ${i + 1}`}
            icon={<X size={14} color={TONES.mist} />}
            on
            onPress={() => set({ stops: draft.stops.filter((_, at) => at !== i) })}
          />
        ))}
      </View>
      <View style={styles.row}>
        {presets.map(({ id, name }) => (
          <Key key={id} label={name} onPress={() => addStop(id)} testID={`tour-add-${name}`} />
        ))}
      </View>
      <View style={styles.row}>
        <NumberField
          label="Stays, seconds"
          value={stays}
          least={0}
          most={3600}
          onChange={(dwellSeconds) => all({ dwellSeconds })}
        />
        <NumberField
          label="Each move, seconds"
          value={moves}
          least={0.5}
          most={60}
          onChange={(seconds) => all({ seconds })}
        />
        <NumberField
          label="Rounds (0: until stopped)"
          value={draft.rounds}
          least={0}
          most={999}
          whole
          onChange={(rounds) => set({ rounds })}
        />
      </View>
      <Toggle
        label="In another order each round"
        value={draft.shuffled}
        onChange={(shuffled) => set({ shuffled })}
      />
      <Choice
        label="While its camera is on air"
        options={[
          { value: 'wait', label: 'It waits' },
          { value: 'gentle', label: 'It moves gently' },
        ]}
        value={draft.onAir}
        onChange={(onAir) => set({ onAir })}
      />
    </Sheet>
  )
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 } })
