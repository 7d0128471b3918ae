/** What a step does, with all that it needs. */
import { StyleSheet, View } from 'react-native'
import type { StepDoes, StepOf } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import { Choice } from '../basics/Choice'
import { Toggle } from '../basics/Toggle'
import { Words } from '../basics/Words'
import { NumberField } from './NumberField'
import { tourWords } from './words'

interface FieldsProps<T extends StepDoes['t']> {
  desk: DeskView
  does: StepOf<T>
  onChange(does: StepDoes): void
}

const NONE_YET = (what: string) => (
  <Words size={14} tone="clay">
    {what}
  </Words>
)

const PACES = [
  { value: 'own', label: 'As the preset has it' },
  { value: 'quick', label: 'Quick' },
  { value: 'timed', label: 'Timed' },
  { value: 'steady', label: 'Steady' },
] as const

export function PresetChoice({
  desk,
  preset,
  camera: only,
  onChange,
}: {
  desk: DeskView
  preset: string
  /** Of this camera alone. */
  camera?: string
  onChange(preset: string): void
}) {
  const chosen = desk.presets.find(({ id }) => id === preset)
  const camera = only ?? chosen?.cameraId ?? desk.cameras[0]?.id ?? ''
  const firstOf = (id: string) => desk.presets.find((p) => p.cameraId === id)?.id
  return (
    <>
      {only ? null : (
        <Choice
          label="Camera"
          options={desk.cameras.map(({ id, number, name }) => ({ value: id, label: `${number} ${name}` }))}
          value={camera}
          onChange={(id) => {
            const first = firstOf(id)
            if (first) onChange(first)
          }}
          testID="step-camera"
        />
      )}
      <Choice
        label="Preset"
        options={desk.presets
          .filter((p) => p.cameraId === camera)
          .map(({ id, number, name }) => ({ value: id, label: `${number} ${name}` }))}
        value={preset}
        onChange={onChange}
        testID="step-preset"
      />
    </>
  )
}

function RecallFields({ desk, does, onChange }: FieldsProps<'recall'>) {
  const { pace } = does
  const set = (change: Partial<StepOf<'recall'>>) => onChange({ ...does, ...change })
  return (
    <>
      <PresetChoice desk={desk} preset={does.preset} onChange={(preset) => set({ preset })} />
      <Choice
        label="Pace"
        options={PACES}
        value={pace?.kind ?? 'own'}
        onChange={(kind) =>
          set({
            pace:
              kind === 'own'
                ? null
                : kind === 'quick'
                  ? { kind }
                  : kind === 'timed'
                    ? { kind, seconds: 4 }
                    : { kind, degPerSec: 5 },
          })
        }
        testID="step-pace"
      />
      {pace?.kind === 'timed' ? (
        <NumberField
          label="Seconds"
          value={pace.seconds}
          least={0.5}
          most={60}
          onChange={(seconds) => set({ pace: { kind: 'timed', seconds } })}
          testID="step-seconds"
        />
      ) : null}
      {pace?.kind === 'steady' ? (
        <NumberField
          label="Degrees a second"
          value={pace.degPerSec}
          least={0.1}
          most={100}
          onChange={(degPerSec) => set({ pace: { kind: 'steady', degPerSec } })}
        />
      ) : null}
      <Toggle
        label="Arrives together with the others that start with it"
        value={does.together}
        onChange={(together) => set({ together })}
        testID="step-together"
      />
    </>
  )
}

function ReplayFields({ desk, does, onChange }: FieldsProps<'replay'>) {
  const set = (change: Partial<StepOf<'replay'>>) => onChange({ ...does, ...change })
  if (desk.show.moves.length === 0) return NONE_YET('Record a move first: in Cues, Tours and moves.')
  return (
    <>
      <Choice
        label="Recorded move"
        options={desk.show.moves.map(({ id, name }) => ({ value: id, label: name }))}
        value={does.move}
        onChange={(move) => set({ move })}
      />
      <NumberField
        label="Pace, per cent"
        value={does.percent}
        least={25}
        most={400}
        whole
        onChange={(percent) => set({ percent })}
      />
      <Toggle label="Backwards" value={does.backwards} onChange={(backwards) => set({ backwards })} />
      <NumberField
        label="Times (0: until stopped)"
        value={does.times}
        least={0}
        most={999}
        whole
        onChange={(times) => set({ times })}
      />
    </>
  )
}

function MessageFields({ desk, does, onChange }: FieldsProps<'message'>) {
  const device = desk.devices.find(({ id }) => id === does.device)
  if (desk.devices.length === 0) return NONE_YET('There is no device yet. Add one in Cues, Devices.')
  return (
    <>
      <Choice
        label="Device"
        options={desk.devices.map(({ id, name }) => ({ value: id, label: name }))}
        value={does.device}
        onChange={(id) => {
          const first = desk.devices.find((d) => d.id === id)?.messages[0]?.id ?? ''
          onChange({ ...does, device: id, message: first })
        }}
        testID="step-device"
      />
      <Choice
        label="Message"
        options={(device?.messages ?? []).map(({ id, name }) => ({ value: id, label: name }))}
        value={does.message}
        onChange={(message) => onChange({ ...does, message })}
        testID="step-message"
      />
    </>
  )
}

const cameraOptions = (desk: DeskView) =>
  desk.cameras.map(({ id, number, name }) => ({ value: id, label: `${number} ${name}` }))

export function StepFields({ desk, does, onChange }: FieldsProps<StepDoes['t']>) {
  switch (does.t) {
    case 'recall':
      return <RecallFields desk={desk} does={does} onChange={onChange} />
    case 'replay':
      return <ReplayFields desk={desk} does={does} onChange={onChange} />
    case 'message':
      return <MessageFields desk={desk} does={does} onChange={onChange} />
    case 'tour':
      return desk.show.tours.length === 0 ? (
        NONE_YET('There is no tour yet. Make one in Cues, Tours and moves.')
      ) : (
        <Choice
          label="Tour"
          options={desk.show.tours.map((tour) => ({
            value: tour.id,
            label: `${tour.name}, ${tourWords(tour)}`,
          }))}
          value={does.tour}
          onChange={(tour) => onChange({ ...does, tour })}
        />
      )
    case 'look':
      return desk.show.looks.length === 0 ? (
        NONE_YET('There is no look yet. Keep one in Picture, Looks.')
      ) : (
        <>
          <Choice
            label="Look"
            options={desk.show.looks.map(({ id, name }) => ({ value: id, label: name }))}
            value={does.look}
            onChange={(look) => onChange({ ...does, look })}
            testID="step-look"
          />
          <NumberField
            label="Faded over, seconds"
            value={does.seconds ?? desk.show.looks.find(({ id }) => id === does.look)?.fadeSeconds ?? 0}
            least={0}
            most={60}
            onChange={(seconds) => onChange({ ...does, seconds })}
          />
        </>
      )
    case 'switch':
      return (
        <>
          <Choice
            label="On the switcher"
            options={[
              { value: 'cut', label: 'Cut' },
              { value: 'fade', label: 'Fade' },
              { value: 'preview', label: 'Preview' },
            ]}
            value={does.action}
            onChange={(action) => onChange({ ...does, action })}
            testID="step-switch"
          />
          <Choice
            label="To"
            options={[{ value: '', label: 'What is on preview' }, ...cameraOptions(desk)]}
            value={does.camera ?? ''}
            onChange={(camera) => onChange({ ...does, camera: camera === '' ? null : camera })}
            testID="step-to"
          />
        </>
      )
    case 'wait':
      return (
        <NumberField
          label="Seconds"
          value={does.seconds}
          least={0}
          most={14_400}
          onChange={(seconds) => onChange({ ...does, seconds })}
          testID="step-seconds"
        />
      )
    case 'arrive':
      return (
        <>
          <View style={styles.many}>
            {cameraOptions(desk).map(({ value, label }) => (
              <Toggle
                key={value}
                label={label}
                value={does.cameras.includes(value)}
                onChange={(on) =>
                  onChange({
                    ...does,
                    cameras: on ? [...does.cameras, value] : does.cameras.filter((id) => id !== value),
                  })
                }
              />
            ))}
          </View>
          <Words size={13} tone="mist">
            With none chosen it waits for all that the cue has moved.
          </Words>
          <NumberField
            label="At most, seconds"
            value={does.atMost}
            least={1}
            most={600}
            onChange={(atMost) => onChange({ ...does, atMost })}
          />
        </>
      )
    case 'power':
      return (
        <>
          <Choice
            label="Camera"
            options={cameraOptions(desk)}
            value={does.camera}
            onChange={(camera) => onChange({ ...does, camera })}
          />
          <Toggle label="Switched on" value={does.on} onChange={(on) => onChange({ ...does, on })} />
        </>
      )
    case 'cue':
      return (
        <Choice
          label="Cue"
          options={desk.show.cues.map(({ id, name }) => ({ value: id, label: name }))}
          value={does.cue}
          onChange={(cue) => onChange({ ...does, cue })}
        />
      )
  }
}

/** A step of a kind, with the first of what it can name. */
export function newDoes(desk: DeskView, t: StepDoes['t']): StepDoes {
  const camera = desk.cameras[0]?.id ?? ''
  const { show } = desk
  switch (t) {
    case 'recall':
      return { t, preset: desk.presets[0]?.id ?? '', pace: null, together: false }
    case 'replay':
      return { t, move: show.moves[0]?.id ?? '', percent: 100, backwards: false, times: 1 }
    case 'tour':
      return { t, tour: show.tours[0]?.id ?? '' }
    case 'look':
      return { t, look: show.looks[0]?.id ?? '', seconds: null }
    case 'arrive':
      return { t, cameras: [], atMost: 60 }
    case 'wait':
      return { t, seconds: 2 }
    case 'message':
      return { t, device: desk.devices[0]?.id ?? '', message: desk.devices[0]?.messages[0]?.id ?? '' }
    case 'switch':
      return { t, action: 'cut', camera }
    case 'power':
      return { t, camera, on: true }
    case 'cue':
      return { t, cue: show.cues[0]?.id ?? '' }
  }
}

/** Is all there that it names? */
export const isWhole = (does: StepDoes): boolean => Object.values(does).every((value) => value !== '')

const styles = StyleSheet.create({ many: { flexDirection: 'row', flexWrap: 'wrap', gap: 4 } })
