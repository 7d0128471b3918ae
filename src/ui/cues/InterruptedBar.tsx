/** What a restart has ended, or the clock has missed: nothing goes on by itself. */
import { StyleSheet, View } from 'react-native'
import type { DeskView } from '../../server/api'
import { showSeen } from '../api/client'
import { Key } from '../basics/Key'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'
import { start } from './runActions'
import { clockText, useShow } from './useShow'
import { secondsText } from './words'

export function InterruptedBar({ desk }: { desk: DeskView }) {
  const { interrupted, missed } = useShow()
  if (interrupted.length === 0 && missed.length === 0) return null
  const first = interrupted[0] ?? missed[0]!
  const text =
    interrupted.length > 0
      ? `“${interrupted.map(({ name }) => name).join('”, “')}” was interrupted by a restart, ${secondsText((interrupted[0]?.intoMs ?? 0) / 1000)} into it. Nothing goes on by itself.`
      : `“${missed[0]!.name}” was to begin at ${clockText(missed[0]!.atMs, desk.venue.timeZone)} and was missed.`
  return (
    <View style={styles.bar} testID="interrupted" accessibilityRole="alert">
      <Words size={15} weight="semiBold" tone="clay" style={styles.text}>
        {`△ ${text}`}
      </Words>
      <Key
        label={interrupted.length > 0 ? 'Start it again' : 'Start it now'}
        onPress={() => start(first.cue)}
        testID="start-again"
      />
      <Key label="Leave it" onPress={() => void told(showSeen)} testID="leave-it" />
    </View>
  )
}

const styles = StyleSheet.create({
  bar: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    gap: 8,
    margin: 8,
    padding: 10,
    borderRadius: RADIUS.middle,
    borderWidth: 2,
    borderColor: TONES.clay,
    backgroundColor: TONES.marsh,
  },
  text: { flexGrow: 1, flexShrink: 1, flexBasis: 240 },
})
