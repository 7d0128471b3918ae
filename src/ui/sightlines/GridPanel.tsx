/** A seat grid in the making: its corners, its rows and how they are called; tried, then made as one section. */
import { ScrollView, StyleSheet, View } from 'react-native'
import type { PanTilt } from '../../core/optics/aim'
import { type MadeGrid, NUMBERINGS, type Seat } from '../../core/survey/seatGrid'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Toggle } from '../basics/Toggle'
import { Words } from '../basics/Words'
import { TONES } from '../theme/tones'
import type { GridForm } from './gridForm'

interface GridPanelProps {
  form: GridForm
  onForm(form: GridForm): void
  corners: readonly (PanTilt | null)[]
  /** Which corner the next touch sets, 0..3. */
  corner: number
  onCorner(corner: number): void
  seats: readonly Seat[] | null
  problem: string | null
  onTry(seat: Seat): void
  onMake(): void
  /** Those whose presets are made, and the one that is moved. */
  grids: readonly MadeGrid[]
  changing: MadeGrid | null
  onBegin(grid: MadeGrid | null): void
  onClose(): void
}

const CORNER_WORDS = [
  'the first seat of the first row',
  'the last seat of the first row',
  'the last seat of the last row',
  'the first seat of the last row',
] as const

/** What its key would do to a block that is there. */
function changeWords(presets: number, seats: number): string {
  if (seats === presets || seats === 0) return `Move ${presets} presets`
  return seats > presets ? `Make it ${seats} presets` : `Leave ${seats} of ${presets} presets`
}

export function GridPanel(props: GridPanelProps) {
  const { form, onForm, corners, corner, onCorner, seats, problem, onTry, onMake, onClose } = props
  const { grids, changing, onBegin } = props
  const set = (change: Partial<GridForm>) => onForm({ ...form, ...change })
  const tries = seats && seats.length > 0 ? [seats[0]!, seats[seats.length >> 1]!, seats.at(-1)!] : []
  const missing = corners.some((one) => one === null)
  return (
    <View style={styles.panel} testID="grid-panel">
      <ScrollView contentContainerStyle={styles.body}>
        {grids.length > 0 ? (
          <Choice
            label="Block"
            options={[
              { value: '', label: 'a new one' },
              ...grids.map(({ id, section, presets }) => ({
                value: id,
                label: `${section}, ${presets} seats`,
              })),
            ]}
            value={changing?.id ?? ''}
            onChange={(id) => onBegin(grids.find((one) => one.id === id) ?? null)}
            testID="grid-of"
          />
        ) : null}
        <View style={styles.row}>
          {CORNER_WORDS.map((word, i) => (
            <Key
              key={word}
              label={`${i + 1}${corners[i] ? ' ✓' : ''}`}
              description={`Corner: ${word}`}
              on={i === corner}
              onPress={() => onCorner(i)}
              style={styles.key}
              testID={`corner-${i + 1}`}
            />
          ))}
        </View>
        <Words size={14} tone={problem ? 'clay' : 'mist'} testID="grid-says">
          {problem
            ? `△ ${problem}`
            : missing
              ? `Touch ${CORNER_WORDS[corner]} on the picture.`
              : `${seats?.length ?? 0} seats. Touch the picture to move corner ${corner + 1}.`}
        </Words>
        <View style={styles.row}>
          <View style={styles.field}>
            <Field label="Rows" value={form.rows} onChangeText={(rows) => set({ rows })} testID="grid-rows" />
          </View>
          <View style={styles.field}>
            <Field
              label="Seats in a row"
              value={form.seats}
              onChangeText={(seatsOfRow) => set({ seats: seatsOfRow })}
              testID="grid-seats"
            />
          </View>
        </View>
        <View style={styles.row}>
          <View style={styles.field}>
            <Field label="First row" value={form.firstRow} onChangeText={(firstRow) => set({ firstRow })} />
          </View>
          <View style={styles.field}>
            <Field
              label="First seat"
              value={form.firstSeat}
              onChangeText={(firstSeat) => set({ firstSeat })}
            />
          </View>
        </View>
        <Field
          label="Aisles after seat"
          value={form.aislesAfter}
          onChangeText={(aislesAfter) => set({ aislesAfter })}
        />
        <Choice
          label="Called"
          options={NUMBERINGS.map((value) => ({ value, label: value }))}
          value={form.numbering}
          onChange={(numbering) => set({ numbering })}
          testID="grid-numbering"
        />
        <Toggle
          label="Seats are counted from the other end"
          value={form.backwards}
          onChange={(backwards) => set({ backwards })}
        />
        <Choice
          label="Rows are"
          options={[
            { value: 0, label: 'straight' },
            { value: 0.5, label: 'bent back' },
            { value: -0.5, label: 'bent forward' },
          ]}
          value={form.bow}
          onChange={(bow) => set({ bow })}
        />
        <Choice
          label="Beside each seat is seen"
          options={[
            { value: 0, label: 'little' },
            { value: 0.5, label: 'half a seat' },
            { value: 1, label: 'a seat' },
          ]}
          value={form.overlap}
          onChange={(overlap) => set({ overlap })}
        />
        <Field label="Heading" value={form.section} onChangeText={(section) => set({ section })} />
        {tries.length > 0 ? (
          <View style={styles.row}>
            {tries.map((seat) => (
              <Key
                key={seat.label}
                label={`Try ${seat.label}`}
                onPress={() => onTry(seat)}
                style={styles.key}
                testID={`try-${seat.label}`}
              />
            ))}
          </View>
        ) : null}
      </ScrollView>
      <View style={styles.foot}>
        <Key
          label={
            changing
              ? changeWords(changing.presets, seats?.length ?? 0)
              : seats
                ? `Make ${seats.length} presets`
                : 'Make presets'
          }
          tone="filled"
          disabled={!seats || problem !== null}
          onPress={onMake}
          style={styles.key}
          testID="make-grid"
        />
        <Key label="Close" onPress={onClose} testID="close-grid" />
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  panel: { flex: 1, minHeight: 0, backgroundColor: TONES.marsh },
  body: { padding: 10, gap: 8 },
  row: { flexDirection: 'row', gap: 8 },
  field: { flex: 1 },
  key: { flex: 1, paddingHorizontal: 6 },
  foot: { flexDirection: 'row', gap: 8, padding: 8, borderTopWidth: 1, borderTopColor: TONES.line },
})
