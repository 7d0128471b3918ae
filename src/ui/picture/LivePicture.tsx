/** A camera's live picture on a canvas. When it is older than two seconds, it says so and looks so. */
import { type RefObject, useEffect, useRef, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'
import { pictures } from '../live/pictures'
import { RADIUS, TONES } from '../theme/tones'

const STALE_MS = 2000
const CHECK_MS = 250

/** null: none came yet; 0: live; else its age in whole seconds. */
type Age = number | null

/** Puts a picture on a canvas of its size. */
export function draw(target: HTMLCanvasElement, bitmap: ImageBitmap): void {
  if (target.width !== bitmap.width || target.height !== bitmap.height) {
    target.width = bitmap.width
    target.height = bitmap.height
  }
  target.getContext('2d')?.drawImage(bitmap, 0, 0)
}

interface LivePictureProps {
  camera: string
  width: number
  height: number
  canvasRef?: RefObject<HTMLCanvasElement | null>
  /** The camera goes on sending an older picture while it travels. */
  held?: boolean
  /** As many pictures a second are enough. */
  perSec?: number
}

export function LivePicture(props: LivePictureProps) {
  const { camera, width, height, canvasRef, held = false, perSec = 30 } = props
  const own = useRef<HTMLCanvasElement | null>(null)
  const canvas = canvasRef ?? own
  const [age, setAge] = useState<Age>(null)
  const [trouble, setTrouble] = useState<string | null>(null)

  useEffect(() => {
    let takenAtMs: number | null = null
    setAge(null)
    // What the canvas still shows is another camera's.
    const blank = canvas.current
    blank?.getContext('2d')?.clearRect(0, 0, blank.width, blank.height)
    const stop = pictures.watch(camera, {
      perSec,
      trouble: setTrouble,
      show: ({ bitmap, takenAtMs: at }) => {
        const target = canvas.current
        if (!target) return
        draw(target, bitmap)
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
  }, [camera, canvas, perSec])

  const live = age === 0 && !held
  return (
    <View
      style={[styles.frame, { width, height }]}
      testID="picture"
      role="img"
      accessibilityLabel={live ? 'Live picture' : 'Picture, not live'}
    >
      <canvas
        ref={canvas}
        style={{
          width,
          height,
          display: 'block',
          filter: live || held ? 'none' : 'grayscale(1) brightness(0.5)',
        }}
      />
      {age === null ? (
        <View style={styles.over}>
          <Words tone={trouble ? 'clay' : 'mist'} style={styles.trouble} testID="picture-trouble">
            {trouble ?? 'Waiting for a picture…'}
          </Words>
        </View>
      ) : null}
      {held && age !== null ? (
        <View style={styles.stale} testID="is-held">
          <Words size={15} weight="bold" tone="clay">
            Held
          </Words>
          <Words size={13}>until it is there</Words>
        </View>
      ) : age ? (
        <View style={styles.stale} testID="not-live">
          <Words size={15} weight="bold" tone="clay">
            Not live
          </Words>
          <Words size={13}>{age < 3600 ? `${age} s old` : 'old'}</Words>
        </View>
      ) : null}
      {live ? (
        <View style={styles.live} testID="is-live">
          <Words size={12} tone="mist">
            live
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
