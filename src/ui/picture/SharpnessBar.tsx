/** How sharp the live picture is, with a mark at the best of the last seconds: manual focus without guessing. */
import { type RefObject, useEffect, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'

const EVERY_MS = 120
/** The mark comes down by this share a second, so that it follows another shot. */
const MARK_FALLS = 0.05

export function SharpnessBar({ canvasRef }: { canvasRef: RefObject<HTMLCanvasElement | null> }) {
  const [{ now, best }, setReading] = useState({ now: 0, best: 0 })
  useEffect(() => {
    const worker = new Worker(new URL('../workers/sharpness.ts', window.location.href))
    let waiting = false
    worker.onmessage = ({ data }: MessageEvent<{ sharpness: number }>) => {
      waiting = false
      setReading((before) => ({
        now: data.sharpness,
        best: Math.max(data.sharpness, before.best * (1 - (MARK_FALLS * EVERY_MS) / 1000)),
      }))
    }
    const timer = setInterval(async () => {
      const source = canvasRef.current
      if (waiting || !source?.width) return
      waiting = true
      try {
        const bitmap = await createImageBitmap(source)
        worker.postMessage({ bitmap }, [bitmap])
      } catch {
        // The canvas has no picture now.
        waiting = false
      }
    }, EVERY_MS)
    return () => {
      clearInterval(timer)
      worker.terminate()
    }
  }, [canvasRef])
  const share = best > 0 ? now / best : 0
  const atPeak = share > 0.97
  return (
    <View
      style={styles.box}
      accessibilityLabel={`Sharpness ${Math.round(share * 100)} percent of the best`}
      testID="sharpness"
    >
      <Words size={12} tone="mist">
        {atPeak ? 'sharpest' : 'sharp'}
      </Words>
      <View style={styles.track}>
        <View style={[styles.bar, atPeak && styles.peak, { width: `${Math.min(100, share * 92)}%` }]} />
        <View style={styles.mark} />
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  box: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    backgroundColor: 'rgba(12,19,21,0.82)',
    borderRadius: RADIUS.small,
    paddingHorizontal: 8,
    paddingVertical: 4,
    pointerEvents: 'none',
  },
  track: { width: 120, height: 10, borderRadius: 5, backgroundColor: TONES.reed, overflow: 'hidden' },
  bar: { height: 10, backgroundColor: TONES.heron },
  peak: { backgroundColor: TONES.sand },
  mark: { position: 'absolute', left: '92%', top: 0, width: 2, height: 10, backgroundColor: TONES.sand },
})
