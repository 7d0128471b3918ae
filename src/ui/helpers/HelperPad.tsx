/** The one camera that a helper may drive: its picture, pad and zoom. */
import { useEffect } from 'react'
import { StyleSheet, useWindowDimensions, View } from 'react-native'
import { feelFor } from '../../core/controls/controls'
import type { CameraView } from '../../server/api'
import { Words } from '../basics/Words'
import { ContourPad } from '../controls/ContourPad'
import { ZoomStrip } from '../controls/ZoomStrip'
import { ClaimBar } from '../desk/ClaimChip'
import { useCamera } from '../desk/useCamera'
import { useControls } from '../input/controlsStore'
import { sticks } from '../input/sticks'
import { useFactValue } from '../live/useFactValue'
import { Thumb } from '../picture/Thumb'
import { TallyFrame, TallyMark } from '../tally/TallyMark'
import { TONES } from '../theme/tones'

const PER_SEC = 12
const STRIP = 64
const GAP = 10

export function HelperPad({ view, beside }: { view: CameraView; beside: boolean }) {
  const window = useWindowDimensions()
  const camera = useCamera(view)
  const feel = feelFor(useControls(), view.id)
  useEffect(() => sticks.select([view.id]), [view.id])
  const now = useFactValue(
    'pose',
    view.id,
    (p) =>
      p && {
        hfovDeg: p.hfovDeg === null ? null : Math.round(p.hfovDeg * 10) / 10,
        times: p.zoom === null ? null : camera.lens.magnification(p.zoom).toFixed(1),
      },
    120,
  )
  // Below the buttons, and where it is low, there is room for a small picture only.
  const low = !beside || window.height < 500
  const width = beside
    ? Math.min(360, Math.round(window.width * 0.42))
    : Math.min(window.width - 2 * GAP, 420)
  const most = beside ? (low ? window.height - 150 : window.height * 0.3) : window.height * 0.26
  const size = Math.round(Math.min(width - STRIP - GAP, most))
  const picture = beside ? (low ? 96 : width) : 128
  return (
    <View style={[styles.pad, { width: width + 2 * GAP }, !beside && styles.below]} testID="helper-pad">
      <View style={styles.head}>
        <View>
          <Thumb camera={view.id} width={picture} height={Math.round((picture * 9) / 16)} perSec={PER_SEC} />
          <TallyFrame camera={view.id} thick={4} />
        </View>
        {low ? (
          <View style={styles.words}>
            <Words weight="bold" numberOfLines={1}>
              {view.name}
            </Words>
            <TallyMark camera={view.id} size={14} />
          </View>
        ) : null}
      </View>
      <ClaimBar camera={view.id} />
      <View style={styles.hands}>
        <ZoomStrip height={size} enabled={camera.enabled} text={now?.times ? `${now.times}×` : '–'} />
        <ContourPad
          size={size}
          hfovDeg={now?.hfovDeg ?? null}
          camera={camera}
          feel={feel}
          enabled={camera.enabled}
        />
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  pad: { padding: GAP, gap: GAP, backgroundColor: TONES.marsh, alignItems: 'center' },
  below: { alignSelf: 'center' },
  head: { flexDirection: 'row', gap: GAP, alignItems: 'center' },
  words: { maxWidth: 160, gap: 2 },
  hands: { flexDirection: 'row', gap: GAP, alignItems: 'center', justifyContent: 'center' },
})
