/** A camera's live picture on a canvas. When no frame comes any more, it says so and looks so. */
import { type RefObject, useRef } from 'react'
import { StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'
import { usePicture } from './usePicture'

interface LivePictureProps {
  camera: string
  width: number
  height: number
  canvasRef?: RefObject<HTMLCanvasElement | null>
  /** The camera keeps sending an older picture while it travels. */
  held?: boolean
  /** How many pictures a second are enough. */
  perSec?: number
}

export function LivePicture(props: LivePictureProps) {
  const { camera, width, height, canvasRef, held = false, perSec = 30 } = props
  const own = useRef<HTMLCanvasElement | null>(null)
  const canvas = canvasRef ?? own
  const { is, seconds, late, trouble } = usePicture(canvas, camera, perSec)
  const fresh = (is === 'live' || is === 'same') && !held
  return (
    <View
      style={[styles.frame, { width, height }]}
      testID="picture"
      role="img"
      accessibilityLabel={fresh ? 'Live picture' : 'Picture, not live'}
    >
      <canvas
        ref={canvas}
        style={{
          width,
          height,
          display: 'block',
          filter: fresh || held ? 'none' : 'grayscale(1) brightness(0.5)',
        }}
      />
      {is === 'none' ? (
        <View style={styles.over}>
          <Words tone={trouble ? 'clay' : 'mist'} style={styles.trouble} testID="picture-trouble">
            {trouble ?? 'Waiting for a picture…'}
          </Words>
        </View>
      ) : null}
      {held && is !== 'none' ? (
        <View style={styles.stale} testID="is-held">
          <Words size={15} weight="bold" tone="clay">
            Held
          </Words>
          <Words size={13}>until it is there</Words>
        </View>
      ) : is === 'old' ? (
        <View style={styles.stale} testID="not-live">
          <Words size={15} weight="bold" tone="clay">
            Not live
          </Words>
          <Words size={13}>{seconds < 3600 ? `${seconds} s old` : 'old'}</Words>
        </View>
      ) : null}
      {fresh ? (
        <View style={styles.live} testID="is-live">
          <Words size={12} tone="mist">
            {is === 'same' ? `unchanged ${seconds} s` : late > 0 ? `${late.toFixed(1)} s late` : 'live'}
          </Words>
        </View>
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  frame: { backgroundColor: '#060A0B', borderRadius: RADIUS.small, overflow: 'hidden' },
  over: { ...StyleSheet.absoluteFill, alignItems: 'center', justifyContent: 'center', pointerEvents: 'none' },
  trouble: { textAlign: 'center', maxWidth: 380, paddingHorizontal: 16 },
  // In the middle: at every edge of a small picture something else is to be read.
  stale: {
    position: 'absolute',
    alignSelf: 'center',
    top: '40%',
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    backgroundColor: TONES.ink,
    borderColor: TONES.clay,
    borderWidth: 2,
    borderStyle: 'dashed',
    borderRadius: RADIUS.small,
    paddingHorizontal: 10,
    paddingVertical: 3,
  },
  live: {
    position: 'absolute',
    right: 6,
    bottom: 6,
    backgroundColor: 'rgba(12,19,21,0.82)',
    borderRadius: RADIUS.small,
    paddingHorizontal: 7,
    paddingVertical: 2,
  },
})
