/** A small live picture: fetched at a low rate, and only while it can be seen. */
import TriangleAlert from 'lucide-react-native/icons/triangle-alert'
import { useEffect, useRef, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'
import { pictures } from '../live/pictures'
import { RADIUS, TONES } from '../theme/tones'
import { draw } from './LivePicture'

const PER_SEC = 4
const STALE_MS = 3000
const CHECK_MS = 500

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
  /** Null before the first picture; 0 live; else its age in seconds. */
  const [age, setAge] = useState<number | null>(null)
  const [trouble, setTrouble] = useState<string | null>(null)

  useEffect(() => {
    if (!seen) return
    let takenAtMs: number | null = null
    setAge(null)
    const stop = pictures.watch(camera, {
      perSec,
      trouble: setTrouble,
      show: ({ bitmap, takenAtMs: at }) => {
        if (!canvas.current) return
        draw(canvas.current, bitmap)
        takenAtMs = at
        if (performance.now() - at < STALE_MS) setAge(0)
      },
    })
    const timer = setInterval(() => {
      if (takenAtMs === null) return
      const ms = performance.now() - takenAtMs
      setAge(ms < STALE_MS ? 0 : Math.floor(ms / 1000))
    }, CHECK_MS)
    return () => {
      stop()
      clearInterval(timer)
    }
  }, [camera, perSec, seen])

  const live = age === 0
  return (
    <View style={[styles.frame, { width, height }]} aria-hidden testID={live ? 'thumb-live' : 'thumb'}>
      <canvas
        ref={canvas}
        style={{ width, height, display: 'block', filter: live ? 'none' : 'grayscale(1) brightness(0.45)' }}
      />
      {age === null ? (
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
      {age ? (
        <View style={styles.over}>
          <Words size={12} weight="bold" tone="clay">
            {age < 3600 ? `${age} s old` : 'old'}
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
