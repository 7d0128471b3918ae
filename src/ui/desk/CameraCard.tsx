/** A camera in the rail: number, name, and how its link is. */
import { StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'
import type { DeskCamera } from './useCamera'

/** The state of a link in a word and a figure. */
export function healthWords({ health }: DeskCamera): string {
  if (!health) return 'not known'
  if (health.state === 'ready' || health.state === 'slow') {
    return health.roundTripMs === null
      ? health.state
      : `${health.state} ${Math.max(1, Math.round(health.roundTripMs))} ms`
  }
  if (health.state === 'silent' && health.silentMs !== null)
    return `silent ${Math.round(health.silentMs / 1000)} s`
  return health.state
}

export function CameraCard({ camera }: { camera: DeskCamera }) {
  const ready = camera.health?.state === 'ready'
  return (
    <View
      style={styles.card}
      accessibilityLabel={`Camera ${camera.view.number}, ${camera.view.name}, ${healthWords(camera)}`}
    >
      <Words size={20} weight="bold">
        {camera.view.number}
      </Words>
      <View style={styles.words}>
        <Words size={15} weight="semiBold" numberOfLines={1}>
          {camera.view.name}
        </Words>
        <Words size={13} tone={ready ? 'mist' : 'clay'} testID="health">
          {healthWords(camera)}
        </Words>
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  card: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 12,
    padding: 12,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.heron,
    backgroundColor: TONES.heronFilled,
  },
  words: { flex: 1 },
})
