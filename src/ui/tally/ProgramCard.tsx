/** What the audience sees, below the cameras of a wide Desk; a touch opens On air. */
import { Pressable, StyleSheet, View } from 'react-native'
import { PROGRAM_PICTURE } from '../../core/live/pictureFrame'
import type { DeskView } from '../../server/api'
import { Words } from '../basics/Words'
import { useFocusRing } from '../input/useFocusRing'
import { Thumb } from '../picture/Thumb'
import { RADIUS, TONES } from '../theme/tones'
import { useTallies } from './next'

const PER_SEC = 10
const FRAME = 2

export function ProgramCard({ desk, width, onPress }: { desk: DeskView; width: number; onPress(): void }) {
  const tallies = useTallies(desk.cameras)
  const { ring, handlers } = useFocusRing()
  const onAir = desk.cameras.find(({ id }) => tallies.get(id) === 'program')
  const inner = width - 2 * FRAME
  return (
    <Pressable
      onPress={onPress}
      accessibilityRole="button"
      {...handlers}
      style={[styles.card, ring && styles.focused]}
      testID="program-card"
    >
      <Thumb camera={PROGRAM_PICTURE} width={inner} height={Math.round((inner * 9) / 16)} perSec={PER_SEC} />
      <View style={styles.words}>
        <Words size={13} weight="bold" numberOfLines={1}>
          {onAir ? `Program · ${onAir.number} ${onAir.name}` : 'Program'}
        </Words>
      </View>
    </Pressable>
  )
}

const styles = StyleSheet.create({
  card: {
    borderWidth: FRAME,
    borderColor: TONES.line,
    borderRadius: RADIUS.small + FRAME,
    overflow: 'hidden',
  },
  focused: { borderColor: TONES.heron },
  words: {
    position: 'absolute',
    left: 0,
    bottom: 0,
    maxWidth: '100%',
    paddingHorizontal: 6,
    paddingVertical: 1,
    backgroundColor: 'rgba(12,19,21,0.85)',
    borderTopRightRadius: RADIUS.small,
  },
})
