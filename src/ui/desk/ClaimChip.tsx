/** Somebody else drives this camera: who, and a deliberate press to take it over. */
import { StyleSheet, View } from 'react-native'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { useFact } from '../live/hooks'
import { live } from '../live/live'
import { RADIUS, TONES } from '../theme/tones'

export const takeOver = (camera: string) => void live().send({ t: 'takeOver', camera })

/** The same where there is no picture to lay it over. */
export function ClaimBar({ camera }: { camera: string }) {
  return (
    <View style={styles.bar}>
      <ClaimChip camera={camera} inLine />
    </View>
  )
}

export function ClaimChip({ camera, inLine = false }: { camera: string; inLine?: boolean }) {
  const claim = useFact('claim', camera)
  if (!claim || live().isMe(claim.by)) return null
  return (
    <View style={[styles.chip, inLine && styles.inLine]} testID="claim" accessibilityRole="alert">
      <Words size={14} weight="semiBold" tone="clay" style={styles.words}>
        {`${claim.name} drives this camera`}
      </Words>
      <Key label="Take over" onPress={() => takeOver(camera)} testID="take-over" />
    </View>
  )
}

const styles = StyleSheet.create({
  chip: {
    position: 'absolute',
    left: 6,
    top: 36,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 10,
    paddingLeft: 12,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.clay,
    backgroundColor: TONES.ink,
  },
  inLine: { position: 'relative', left: 0, top: 0 },
  bar: { paddingHorizontal: 12 },
  words: { flexShrink: 1 },
})
