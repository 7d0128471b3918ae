/** Before the presets of a bumped camera are mended: what that does, on three of them. */
import { Image, StyleSheet, View } from 'react-native'
import { mendedPose } from '../../core/bump/mended'
import type { PresetView } from '../../server/api'
import { mendBump, pictureUrl } from '../api/client'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import type { DeskCamera } from '../desk/useCamera'
import { RADIUS, TONES } from '../theme/tones'
import { order } from './actions'
import { noteMended } from './noteMended'
import { type Posed, posed } from './posed'
import { type Shift, shiftedPlace, shiftWords } from './shift'

const WIDTH = 144
const HEIGHT = 81
const SHOWN = 3

interface MendSheetProps {
  camera: DeskCamera
  presets: readonly PresetView[]
  shift: Shift
  onClose(): void
}

type Place = { u: number; v: number }

export function MendSheet({ camera, presets: all, shift, onClose }: MendSheetProps) {
  const { view, lens, profile, sight } = camera
  const presets = posed(all)
  const placed = presets.map((preset) => ({
    preset,
    place: shiftedPlace(shift, preset.pose, lens, view.mount),
  }))
  // Where it is seen best: those that look at the least of the room.
  const far = (place: Place | null) => (place ? Math.hypot(place.u, place.v) : Number.POSITIVE_INFINITY)
  const shown = [...placed].sort((a, b) => far(b.place) - far(a.place)).slice(0, SHOWN)
  const mend = async () => {
    const done = await told(() => mendBump(view.id, shift.bump, false))
    if (!done) return
    onClose()
    noteMended(view, done.changed)
  }
  const foot = (
    <>
      <Key label={`Mend all ${presets.length}`} tone="filled" onPress={() => void mend()} testID="mend-all" />
      <Key
        label="Look closer"
        description="It looks at several pictures of then, so that it tells a turned picture and another lens too."
        onPress={() => {
          onClose()
          void order({ t: 'startRound', camera: view.id, round: { kind: 'bump' } })
        }}
        testID="look-for-bump"
      />
      <Key label="Leave them" onPress={onClose} />
    </>
  )
  return (
    <Sheet title="Was this camera bumped?" maxWidth={560} onClose={onClose} foot={foot} testID="mend-sheet">
      <Words size={15}>
        {`What was stored now stands ${shiftWords(shift)} from where it was. All presets of ${view.name} can be turned by as much, with its limits, its survey and its points of the room, and turned back as one.`}
      </Words>
      {shown.map(({ preset, place }) => (
        <Row
          key={preset.id}
          preset={preset}
          place={place}
          now={mendedPose(preset.pose, shift.bump, profile, sight, false)}
        />
      ))}
    </Sheet>
  )
}

function Row({ preset, place, now }: { preset: Posed; place: Place | null; now: Posed['pose'] }) {
  const { pose } = preset
  const turned = (was: number, is: number) => `${was.toFixed(1)}° to ${is.toFixed(1)}°`
  return (
    <View style={styles.row} testID={`mend-${preset.number}`}>
      <Words size={14} weight="semiBold">{`${preset.number} ${preset.name}`}</Words>
      <Words size={13} tone="mist">
        {`pan ${turned(pose.panDeg, now.panDeg)}, tilt ${turned(pose.tiltDeg, now.tiltDeg)}`}
      </Words>
      <View style={styles.pair}>
        <Framed preset={preset} place={place} words="Before" />
        <Framed preset={preset} place={{ u: 0, v: 0 }} words="After" />
      </View>
    </View>
  )
}

/** The stored picture where the camera has it: what lies beyond its edge was not seen then. */
function Framed({ preset, place, words }: { preset: Posed; place: Place | null; words: string }) {
  const at = place && { left: (place.u * WIDTH) / 2, top: (-place.v * HEIGHT) / 2 }
  return (
    <View style={styles.framed} accessibilityLabel={`${words}: ${preset.name}`}>
      {preset.pictureId && at ? (
        <Image source={{ uri: pictureUrl(preset.pictureId) }} style={[styles.picture, at]} />
      ) : null}
      <View style={styles.words}>
        <Words size={12}>{words}</Words>
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  row: { gap: 3 },
  pair: { flexDirection: 'row', flexWrap: 'wrap', gap: 10, marginTop: 3 },
  framed: {
    width: WIDTH,
    height: HEIGHT,
    overflow: 'hidden',
    borderRadius: RADIUS.small,
    backgroundColor: TONES.line,
  },
  picture: { position: 'absolute', width: WIDTH, height: HEIGHT },
  words: {
    position: 'absolute',
    left: 4,
    bottom: 4,
    paddingHorizontal: 5,
    borderRadius: RADIUS.small,
    backgroundColor: 'rgba(12,19,21,0.86)',
  },
})
