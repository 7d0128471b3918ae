/** The settings that a camera offers, whatever they are: each drawn by its kind. */
import type { SettingSpec, SettingValue } from '../../core/picture/settings'
import { Choice } from '../basics/Choice'
import { Key } from '../basics/Key'
import { Fader } from '../controls/Fader'
import { useFact } from '../live/hooks'
import { order } from '../presets/actions'
import { Part } from './Part'
import type { DeskCamera } from './useCamera'

const SWITCH = [
  { value: 'on', label: 'On' },
  { value: 'off', label: 'Off' },
]

interface SettingProps {
  spec: SettingSpec
  /** Null if the camera has not told it. */
  value: SettingValue | null
  disabled: boolean
  onChange(value: SettingValue): void
}

function Setting({ spec, value, disabled, onChange }: SettingProps) {
  const testID = `setting-${spec.key}`
  if (spec.kind === 'range') {
    const { min, max, step, unit } = spec
    const at = typeof value === 'number' ? value : min
    return (
      <Fader
        label={spec.label}
        value={(at - min) / (max - min)}
        text={value === null ? 'not known' : `${at}${unit && ` ${unit}`}`}
        onChange={(share) => onChange(min + Math.round((share * (max - min)) / step) * step)}
        testID={testID}
      />
    )
  }
  if (spec.kind === 'act')
    return <Key label={spec.label} disabled={disabled} onPress={() => onChange(true)} testID={testID} />
  const switched = value === null ? null : value === true ? 'on' : 'off'
  return (
    <Choice
      label={spec.label}
      options={spec.kind === 'switch' ? SWITCH : spec.options}
      value={spec.kind === 'switch' ? switched : (value as string | null)}
      disabled={disabled}
      onChange={(next) => onChange(spec.kind === 'switch' ? next === 'on' : next)}
      testID={testID}
    />
  )
}

export function SettingsPart({ camera }: { camera: DeskCamera }) {
  const { id } = camera.view
  const values = useFact('settings', id)
  // All else has the Picture place.
  const specs = (camera.able?.settings ?? []).filter(({ group }) => group === 'lens')
  if (specs.length === 0) return null
  return (
    <Part title="Settings">
      {specs.map((spec) => (
        <Setting
          key={spec.key}
          spec={spec}
          value={values?.[spec.key] ?? null}
          disabled={!camera.enabled}
          onChange={(value) => void order({ t: 'setting', camera: id, key: spec.key, value })}
        />
      ))}
    </Part>
  )
}
