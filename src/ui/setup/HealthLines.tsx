/** How a camera's link is doing, in figures, and what to try. */

import { StyleSheet, View } from 'react-native'
import { can } from '../../core/facts/capabilities'
import type { CameraView } from '../../server/api'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { healthWords } from '../desk/healthWords'
import { useFact } from '../live/hooks'
import { setPower } from '../presets/actions'

const seconds = (ms: number | null) =>
  ms === null ? 'never' : ms < 1500 ? 'just now' : `${Math.round(ms / 1000)} s ago`

export function HealthLines({ view }: { view: CameraView }) {
  const health = useFact('health', view.id)
  const able = useFact('able', view.id)
  if (!view.enabled || !health) return null
  const figures: [string, string][] = [
    ['State', healthWords(health, true)],
    ['Round trip', health.roundTripMs === null ? '–' : `${health.roundTripMs.toFixed(1)} ms`],
    ['Loss', `${(health.loss * 100).toFixed(1)} %`],
    ['Last answer', seconds(health.silentMs)],
    ['Came back', `${health.reconnects} times`],
  ]
  if (able?.device) figures.push(['Says it is', able.device])
  return (
    <View style={styles.lines} testID="health-lines">
      <View style={styles.figures}>
        {figures.map(([label, value]) => (
          <View key={label}>
            <Words size={12} tone="mist">
              {label}
            </Words>
            <Words size={15} weight="semiBold">
              {value}
            </Words>
          </View>
        ))}
      </View>
      {health.advice ? <Advice title={healthWords(health, true)} text={health.advice} /> : null}
      {view.warnings.map((warning) => (
        <Advice key={warning} title="Password" text={warning} />
      ))}
      {can(able, 'power') ? (
        <View style={styles.keys}>
          <Key label="Switch on" onPress={() => void setPower(view.id, true)} testID="power-on" />
          <Key label="Standby" onPress={() => void setPower(view.id, false)} testID="power-off" />
        </View>
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  lines: { gap: 10 },
  figures: { flexDirection: 'row', flexWrap: 'wrap', columnGap: 22, rowGap: 6 },
  keys: { flexDirection: 'row', gap: 8 },
})
