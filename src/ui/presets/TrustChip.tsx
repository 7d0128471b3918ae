/** What the comparison after an arrival found, and the way to mend a camera that was bumped. */
import { useState } from 'react'
import { Image, StyleSheet, View } from 'react-native'
import type { CameraView, PresetView } from '../../server/api'
import { pictureUrl, shiftPresets } from '../api/client'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import type { DeskCamera } from '../desk/useCamera'
import { RADIUS, TONES } from '../theme/tones'
import { posed } from './posed'
import { type Shift, shiftOf, shiftWords } from './shift'
import { useTrust } from './useTrust'

interface TrustChipProps {
  camera: DeskCamera
  presets: readonly PresetView[]
}

export function TrustChip({ camera, presets }: TrustChipProps) {
  const { view, lens, zoomRange } = camera
  const trusted = useTrust(view.id, presets, zoomRange)
  const [mending, setMending] = useState<Shift | null>(null)
  const finding = trusted?.finding ?? null
  const shift =
    trusted?.preset.pose && finding?.kind === 'shifted'
      ? shiftOf(finding, trusted.preset.pose, lens, view.mount)
      : null
  const text =
    finding?.kind === 'matches'
      ? 'as stored'
      : finding?.kind === 'changed'
        ? 'The scene has changed since it was stored'
        : shift
          ? `The whole view is shifted: ${shiftWords(shift)}`
          : null
  return (
    <>
      {text ? (
        <View
          style={[styles.chip, finding?.kind !== 'matches' && styles.wrong]}
          testID="trust"
          accessibilityRole="alert"
        >
          <Words size={13} tone={finding?.kind === 'matches' ? 'mist' : 'clay'}>
            {text}
          </Words>
          {shift ? <Key label="Mend" onPress={() => setMending(shift)} testID="mend" /> : null}
        </View>
      ) : null}
      {mending ? (
        <MendSheet view={view} presets={presets} shift={mending} onClose={() => setMending(null)} />
      ) : null}
    </>
  )
}

interface MendSheetProps {
  view: CameraView
  presets: readonly PresetView[]
  shift: Shift
  onClose(): void
}

function MendSheet({ view, presets: all, shift, onClose }: MendSheetProps) {
  const presets = posed(all)
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
      <Key label="Leave them" onPress={onClose} />
    </>
  )
  return (
    <Sheet title="Was this camera bumped?" maxWidth={560} onClose={onClose} foot={foot} testID="mend-sheet">
      <Words size={15}>
        {`What was stored now stands ${shiftWords(shift)} from where it was. All presets of ${view.name} can be turned by as much. Their former state is kept.`}
      </Words>
      {presets.slice(0, 3).map((p) => (
        <View key={p.id} style={styles.row}>
          {p.pictureId ? (
            <Image source={{ uri: pictureUrl(p.pictureId) }} style={styles.picture} />
          ) : (
            <View style={styles.picture} />
          )}
          <View style={styles.words}>
            <Words size={15} weight="semiBold">{`${p.number} ${p.name}`}</Words>
            <Words size={13} tone="mist">
              {`pan ${p.pose.panDeg.toFixed(1)}° becomes ${(p.pose.panDeg + shift.panDeg).toFixed(1)}°`}
            </Words>
            <Words size={13} tone="mist">
              {`tilt ${p.pose.tiltDeg.toFixed(1)}° becomes ${(p.pose.tiltDeg + shift.tiltDeg).toFixed(1)}°`}
            </Words>
          </View>
        </View>
      ))}
    </Sheet>
  )
}

const styles = StyleSheet.create({
  chip: {
    position: 'absolute',
    left: 6,
    bottom: 36,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    maxWidth: '74%',
    paddingHorizontal: 8,
    paddingVertical: 3,
    borderRadius: RADIUS.small,
    backgroundColor: 'rgba(12,19,21,0.86)',
  },
  wrong: { borderWidth: 1, borderColor: TONES.clay },
  row: { flexDirection: 'row', gap: 12, alignItems: 'center' },
  picture: { width: 128, height: 72, borderRadius: RADIUS.small, backgroundColor: TONES.ink },
  words: { flex: 1, gap: 2 },
})
