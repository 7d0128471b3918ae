/** Before the presets of a bumped camera are mended: what that does, on three of them. */
import { Image, StyleSheet, View } from 'react-native'
import type { PresetView } from '../../server/api'
import { pictureUrl, shiftPresets } from '../api/client'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import type { DeskCamera } from '../desk/useCamera'
import { RADIUS, TONES } from '../theme/tones'
import { order } from './actions'
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
  const { view, lens } = camera
  const presets = posed(all)
  const placed = presets.map((preset) => ({
    preset,
    place: shiftedPlace(shift, preset.pose, lens, view.mount),
  }))
  // Where it is seen best: those that look at the least of the room.
  const far = (place: Place | null) => (place ? Math.hypot(place.u, place.v) : Number.POSITIVE_INFINITY)
  const shown = [...placed].sort((a, b) => far(b.place) - far(a.place)).slice(0, SHOWN)
  const mend = async () => {
    const done = await told(() => shiftPresets(view.id, shift))
    if (!done) return
    onClose()
    note(`Mended ${done.changed} presets of ${view.name}.`, {
      actions: [
        {
          label: 'Undo',
          act: () =>
            void told(() => shiftPresets(view.id, { panDeg: -shift.panDeg, tiltDeg: -shift.tiltDeg })),
        },
      ],
    })
  }
  const foot = (
    <>
      <Key label={`Mend all ${presets.length}`} tone="filled" onPress={() => void mend()} testID="mend-all" />
      <Key
        label="Look closer"
        description="It looks at several pictures of then, tells a roll and another lens too, and mends limits, survey and room as well."
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
        {`What was stored now stands ${shiftWords(shift)} from where it was. All presets of ${view.name} can be turned by as much. Their former state is kept.`}
      </Words>
      {shown.map(({ preset, place }) => (
        <Row key={preset.id} preset={preset} place={place} shift={shift} />
      ))}
    </Sheet>
  )
}

function Row({ preset, place, shift }: { preset: Posed; place: Place | null; shift: Shift }) {
  const { pose } = preset
  const turned = (deg: number, by: number) => `${deg.toFixed(1)}° to ${(deg + by).toFixed(1)}°`
  return (
    <View style={styles.row} testID={`mend-${preset.number}`}>
      <Words size={14} weight="semiBold">{`${preset.number} ${preset.name}`}</Words>
      <Words size={13} tone="mist">
        {`pan ${turned(pose.panDeg, shift.panDeg)}, tilt ${turned(pose.tiltDeg, shift.tiltDeg)}`}
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
  pair: { flexDirection: 'row', gap: 10, marginTop: 3 },
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
