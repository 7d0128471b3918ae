/** One picture setting: a tape, a choice, a switch or a key, grey with the reason where a mode does not take it. */
import { StyleSheet, View } from 'react-native'
import {
  closedBy,
  type SettingSpec,
  type SettingValue,
  type SettingValues,
} from '../../core/picture/settings'
import { Choice } from '../basics/Choice'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { ask } from '../tally/asked'
import { RADIUS, TONES } from '../theme/tones'
import { Tape } from './Tape'

export interface SettingRowProps {
  spec: SettingSpec
  specs: readonly SettingSpec[]
  values: SettingValues
  /** Why nothing of this camera can be set now. */
  away: string | null
  onTurn(spec: SettingSpec, value: SettingValue): void
  pinned?: boolean
  onPin?: ((key: string) => void) | undefined
}

const SWITCH = [
  { value: 'off', label: 'Off' },
  { value: 'on', label: 'On' },
]

/** A word that helps beside some of them. */
const HINTS: Readonly<Record<string, string>> = {
  shutter: '1/50 suits lamps on 50 Hz',
  gain: 'noise rises with it',
}

export function SettingRow({ spec, specs, values, away, onTurn, pinned, onPin }: SettingRowProps) {
  const give = (next: SettingValue) => {
    if (!spec.restarts) onTurn(spec, next)
    else
      ask({
        text: `With another ${spec.label.toLowerCase()} the camera starts anew, and is away for some seconds. Hold to do it.`,
        act: () => onTurn(spec, next),
      })
  }
  const closed = away ?? closedBy(spec, specs, values)
  const value = values[spec.key] ?? null
  if (spec.kind === 'range')
    return (
      <Tape
        spec={spec}
        value={typeof value === 'number' ? value : null}
        closed={closed}
        hint={spec.unit === 's' || spec.unit === 'dB' ? (HINTS[spec.key] ?? null) : null}
        onTurn={give}
        pinned={pinned ?? false}
        onPin={onPin && (() => onPin(spec.key))}
      />
    )
  if (spec.kind === 'act')
    return (
      <View style={styles.act}>
        <Key
          label={spec.label}
          disabled={closed !== null}
          onPress={() => give(true)}
          testID={`setting-${spec.key}`}
        />
        <Words size={12} tone="mist" style={styles.why} testID={`why-${spec.key}`}>
          {closed ?? ''}
        </Words>
      </View>
    )
  const chosen = spec.kind === 'choice' ? value : value === null ? null : value === true ? 'on' : 'off'
  return (
    <View style={styles.choice}>
      <View style={[styles.head, closed === null && value !== null && spec.told && styles.none]}>
        <Words size={12} tone="mist" style={styles.why} numberOfLines={1} testID={`why-${spec.key}`}>
          {closed ?? (value === null ? 'not told' : spec.told ? '' : 'as set from here')}
        </Words>
      </View>
      <Choice
        label={spec.label}
        options={spec.kind === 'choice' ? spec.options : SWITCH}
        value={chosen as string | null}
        disabled={closed !== null}
        onChange={(next) => give(spec.kind === 'switch' ? next === 'on' : next)}
        testID={`setting-${spec.key}`}
      />
    </View>
  )
}

const styles = StyleSheet.create({
  act: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  why: { flex: 1, textAlign: 'right' },
  choice: {
    gap: 6,
    padding: 10,
    paddingTop: 4,
    backgroundColor: TONES.marsh,
    borderColor: TONES.line,
    borderWidth: 1,
    borderRadius: RADIUS.middle,
  },
  none: { display: 'none' },
  head: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 20 },
})
