/** "On air", "Preview", or that it is not known: a word on its colour, and a frame around a picture. */
import { StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'
import { RADIUS } from '../theme/tones'
import { lookOf, useTally } from './useTally'

interface MarkProps {
  camera: string
  size?: number
  /** Across the whole width of what it is laid over. */
  bar?: boolean
}

export function TallyMark({ camera, size = 14, bar = false }: MarkProps) {
  const state = useTally(camera)
  const look = lookOf(state)
  if (!look) return null
  return (
    <View
      style={[styles.mark, bar && styles.bar, { backgroundColor: look.colour }]}
      testID={`tally-${state}`}
    >
      <Words size={size} weight="bold" numberOfLines={1} style={{ color: look.ink, lineHeight: size + 4 }}>
        {look.word}
      </Words>
    </View>
  )
}

/** Laid over a picture; touches go through it. @param thick px */
export function TallyFrame({ camera, thick }: { camera: string; thick: number }) {
  const look = lookOf(useTally(camera))
  if (!look) return null
  return (
    <View
      style={[
        styles.frame,
        { borderWidth: thick, borderColor: look.colour, borderStyle: look.dashed ? 'dashed' : 'solid' },
      ]}
    />
  )
}

const styles = StyleSheet.create({
  mark: { paddingHorizontal: 7, borderRadius: RADIUS.small, alignItems: 'center', alignSelf: 'flex-start' },
  bar: { alignSelf: 'stretch', borderRadius: 0, paddingHorizontal: 1 },
  frame: { ...StyleSheet.absoluteFill, borderRadius: RADIUS.small, pointerEvents: 'none' },
})
