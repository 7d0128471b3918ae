/** A small live picture: fetched at a low rate, and only while it can be seen. */
import TriangleAlert from 'lucide-react-native/icons/triangle-alert'
import { useEffect, useRef, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'
import { usePicture } from './usePicture'

const PER_SEC = 4

interface ThumbProps {
  camera: string
  width: number
  height: number
  perSec?: number
}

/** Is the element on the screen? */
function useSeen(target: { current: HTMLElement | null }): boolean {
  const [seen, setSeen] = useState(false)
  useEffect(() => {
    const element = target.current
    if (!element) return
    const observer = new IntersectionObserver((entries) => setSeen(entries.some((e) => e.isIntersecting)))
    observer.observe(element)
    return () => observer.disconnect()
  }, [target])
  return seen
}

export function Thumb({ camera, width, height, perSec = PER_SEC }: ThumbProps) {
  const canvas = useRef<HTMLCanvasElement | null>(null)
  const seen = useSeen(canvas)
  const { is, seconds, trouble } = usePicture(canvas, camera, perSec, seen)
  const fresh = is === 'live' || is === 'same'
  return (
    <View style={[styles.frame, { width, height }]} aria-hidden testID={fresh ? 'thumb-live' : 'thumb'}>
      <canvas
        ref={canvas}
        style={{ width, height, display: 'block', filter: fresh ? 'none' : 'grayscale(1) brightness(0.45)' }}
      />
      {is === 'none' ? (
        <View style={styles.over}>
          {trouble ? (
            <TriangleAlert size={16} color={TONES.clay} />
          ) : (
            <Words size={11} tone="mist">
              waiting…
            </Words>
          )}
        </View>
      ) : null}
      {is === 'old' ? (
        <View style={styles.over}>
          <Words size={12} weight="bold" tone="clay">
            {seconds < 3600 ? `${seconds} s old` : 'old'}
          </Words>
        </View>
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  frame: { backgroundColor: '#060A0B', borderRadius: RADIUS.small, overflow: 'hidden' },
  over: { ...StyleSheet.absoluteFill, alignItems: 'center', justifyContent: 'center', pointerEvents: 'none' },
})
