/** A preset as one large button: its picture, its name, and the truth about its camera. */
import { memo } from 'react'
import { Image, Pressable, StyleSheet, View } from 'react-native'
import type { HelperDesk } from '../../core/cues/show'
import type { CameraView, PresetView } from '../../server/api'
import { pictureUrl } from '../api/client'
import { useDescription } from '../basics/useDescription'
import { Words } from '../basics/Words'
import { useFocusRing } from '../input/useFocusRing'
import { useTap } from '../input/useTap'
import { recall } from '../presets/actions'
import { standingWords } from '../presets/standingWords'
import { useStanding } from '../presets/useStanding'
import { TallyFrame, TallyMark } from '../tally/TallyMark'
import { SPOKEN, useTally } from '../tally/useTally'
import { RADIUS, TONES } from '../theme/tones'
import { web } from '../theme/web'

interface HelperTileProps {
  preset: PresetView
  camera: CameraView
  width: number
  size: HelperDesk['size']
}

export const HelperTile = memo(function HelperTile({ preset, camera, width, size }: HelperTileProps) {
  const standing = useStanding(preset, camera)
  const { ring, handlers } = useFocusRing()
  const { described, description } = useDescription(`Camera ${camera.name}${SPOKEN[useTally(camera.id)]}`)
  const go = () => void recall(preset.id)
  const tap = useTap(go, go)
  const height = Math.round((width * 9) / 16)
  const words = standingWords(standing)
  const roomy = size === 'large' && width >= 220
  return (
    <Pressable
      testID={`helper-${preset.name}`}
      accessibilityRole="button"
      {...described}
      {...tap}
      {...handlers}
      style={[
        styles.tile,
        { width },
        standing.kind === 'here' && styles.here,
        standing.kind === 'travelling' && styles.travelling,
        standing.kind === 'failed' && styles.failed,
        ring && styles.focused,
        web({ userSelect: 'none', outlineStyle: 'none', touchAction: 'manipulation' }),
      ]}
    >
      <View style={{ height }}>
        {preset.pictureId ? (
          <Image
            source={{ uri: pictureUrl(preset.pictureId) }}
            style={styles.picture}
            resizeMode="cover"
            accessible={false}
          />
        ) : (
          <View style={styles.blank}>
            <Words tone="mist">no picture</Words>
          </View>
        )}
        <TallyFrame camera={camera.id} thick={4} />
        <View style={styles.tally}>
          <TallyMark camera={camera.id} size={size === 'large' ? 18 : 14} />
        </View>
        {standing.kind === 'travelling' ? (
          <View style={[styles.progress, { width: Math.max(6, width * standing.share) }]} />
        ) : null}
      </View>
      <View style={styles.words}>
        <Words size={roomy ? 22 : 17} weight="bold" numberOfLines={1} style={styles.name}>
          {preset.name}
        </Words>
        <Words size={roomy ? 16 : 13} tone={standing.kind === 'failed' ? 'clay' : 'mist'}>
          {standing.kind === 'failed' ? `△ ${words}` : words}
        </Words>
      </View>
      {description}
    </Pressable>
  )
})

const styles = StyleSheet.create({
  tile: {
    ...{ borderRadius: RADIUS.middle, overflow: 'hidden', borderWidth: 3, borderColor: TONES.line },
    backgroundColor: TONES.marsh,
  },
  here: { borderColor: TONES.sand },
  travelling: { borderColor: TONES.heron },
  failed: { borderColor: TONES.clay, borderStyle: 'dashed' },
  focused: { outlineColor: TONES.heron, outlineWidth: 3, outlineStyle: 'solid', outlineOffset: 2 },
  picture: { width: '100%', height: '100%' },
  blank: { flex: 1, alignItems: 'center', justifyContent: 'center' },
  tally: { position: 'absolute', left: 8, top: 8 },
  progress: { position: 'absolute', left: 0, bottom: 0, height: 7, backgroundColor: TONES.heron },
  words: {
    ...{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'baseline', columnGap: 8 },
    ...{ paddingHorizontal: 10, paddingVertical: 6 },
  },
  name: { flexShrink: 1 },
})
