/** What the comparison after an arrival found, and the way to mend a camera that was bumped. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { aimed } from '../../core/presets/pose'
import type { PresetView } from '../../server/api'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import type { DeskCamera } from '../desk/useCamera'
import { RADIUS, TONES } from '../theme/tones'
import { MendSheet } from './MendSheet'
import { type Shift, shiftOf, shiftWords } from './shift'
import { useTrust } from './useTrust'

interface TrustChipProps {
  camera: DeskCamera
  presets: readonly PresetView[]
}

export function TrustChip({ camera, presets }: TrustChipProps) {
  const { view, lens, arrival } = camera
  const trusted = useTrust(view.id, presets, arrival)
  const [mending, setMending] = useState<Shift | null>(null)
  const finding = trusted?.finding ?? null
  const stored = aimed(trusted?.preset.pose ?? null)
  const shift = stored && finding?.kind === 'shifted' ? shiftOf(finding, stored, lens, view.mount) : null
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
        <MendSheet camera={camera} presets={presets} shift={mending} onClose={() => setMending(null)} />
      ) : null}
    </>
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
})
