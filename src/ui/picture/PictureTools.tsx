/** Touches on the live picture: a wheel and two fingers always zoom about where they are; the tool says the rest. */

import { useEffect, useRef, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import Svg, { Circle, Line, Rect } from 'react-native-svg'
import type { Pace } from '../../core/presets/pace'
import { controlsNow } from '../input/controlsStore'
import { live } from '../live/live'
import { order } from '../presets/actions'
import { TONES } from '../theme/tones'
import { web } from '../theme/web'
import type { Tool } from './tools'

/** One notch of a wheel. */
const NOTCH = 1.12
const NOTCH_PX = 100
const PINCH_EVERY_MS = 90
const FINGER_EVERY_MS = 14
const FINGER_REPEAT_MS = 80
/** A box smaller than this was a slip, as a share of the picture's width. */
const LEAST_BOX = 0.04
const MARK_MS = 700

interface PictureToolsProps {
  camera: string
  tool: Tool
  /** How long an aim or a frame takes; null: as fast as it can. */
  toolPace: Pace | null
  width: number
  height: number
  enabled: boolean
}

interface Place {
  x: number
  y: number
}

export function PictureTools({ camera, tool, toolPace, width, height, enabled }: PictureToolsProps) {
  const area = useRef<HTMLElement | null>(null)
  const [box, setBox] = useState<{ from: Place; to: Place } | null>(null)
  const [mark, setMark] = useState<Place | null>(null)
  const current = useRef({ camera, tool, toolPace, enabled, width, height })
  current.current = { camera, tool, toolPace, enabled, width, height }

  useEffect(() => {
    if (!mark) return
    const timer = setTimeout(() => setMark(null), MARK_MS)
    return () => clearTimeout(timer)
  }, [mark])

  useEffect(() => {
    const element = area.current
    if (!element) return
    const pointers = new Map<number, Place>()
    let pinch: { apart: number; atMs: number } | null = null
    let finger: { id: number; repeat: ReturnType<typeof setInterval>; at: Place; sentMs: number } | null =
      null
    let started: Place | null = null

    const placeOf = (event: PointerEvent | WheelEvent): Place => {
      const bounds = element.getBoundingClientRect()
      return { x: event.clientX - bounds.left, y: event.clientY - bounds.top }
    }
    const clamp = (x: number) => Math.max(-1, Math.min(1, x))
    const point = ({ x, y }: Place) => ({
      u: clamp((2 * x) / current.current.width - 1),
      v: clamp(1 - (2 * y) / current.current.height),
    })
    const zoom = (at: Place, factor: number) =>
      void order({
        t: 'zoomAbout',
        camera: current.current.camera,
        ...point(at),
        factor: Math.max(0.2, Math.min(5, factor)),
        pace: current.current.toolPace,
      })

    const tellFinger = (phase: 'down' | 'move' | 'up', at: Place) =>
      live().send({
        ...{ t: 'finger', phase, camera: current.current.camera, sentMs: performance.now() },
        ...point(at),
      })
    const liftFinger = () => {
      if (!finger) return
      clearInterval(finger.repeat)
      tellFinger('up', finger.at)
      finger = null
    }

    const onWheel = (event: WheelEvent) => {
      if (!current.current.enabled) return
      event.preventDefault()
      const notches = event.deltaMode === 0 ? event.deltaY / NOTCH_PX : Math.sign(event.deltaY)
      zoom(placeOf(event), NOTCH ** -Math.max(-3, Math.min(3, notches)))
    }
    const twoFingers = () => {
      const [a, b] = [...pointers.values()]
      if (!a || !b) return null
      return { apart: Math.hypot(a.x - b.x, a.y - b.y), middle: { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 } }
    }
    const onDown = (event: PointerEvent) => {
      if (!current.current.enabled || event.button !== 0) return
      const at = placeOf(event)
      pointers.set(event.pointerId, at)
      if (pointers.size === 2) {
        liftFinger()
        started = null
        setBox(null)
        pinch = { apart: twoFingers()!.apart, atMs: event.timeStamp }
        return
      }
      const { tool: now } = current.current
      if (now === 'store' || pointers.size > 2) return
      element.setPointerCapture(event.pointerId)
      event.preventDefault()
      started = at
      if (now === 'follow') {
        tellFinger('down', at)
        const repeat = setInterval(() => finger && tellFinger('move', finger.at), FINGER_REPEAT_MS)
        finger = { id: event.pointerId, repeat, at, sentMs: event.timeStamp }
      }
    }
    const onMove = (event: PointerEvent) => {
      if (!pointers.has(event.pointerId)) return
      const at = placeOf(event)
      pointers.set(event.pointerId, at)
      const two = pinch && twoFingers()
      if (pinch && two) {
        if (event.timeStamp - pinch.atMs < PINCH_EVERY_MS || two.apart < 20) return
        zoom(two.middle, two.apart / pinch.apart)
        pinch = { apart: two.apart, atMs: event.timeStamp }
        return
      }
      if (finger?.id === event.pointerId) {
        finger.at = at
        if (event.timeStamp - finger.sentMs < FINGER_EVERY_MS) return
        finger.sentMs = event.timeStamp
        tellFinger('move', at)
      } else if (started && current.current.tool === 'frame') setBox({ from: started, to: at })
    }
    const act = (from: Place, to: Place) => {
      const { camera: id, tool: now, toolPace: pace, width: w, height: h } = current.current
      if (now === 'aim') {
        setMark(to)
        void order({ t: 'aim', camera: id, ...point(to), pace })
      } else if (now === 'focusPoint') {
        setMark(to)
        void order({ t: 'focusAt', camera: id, ...point(to) })
      } else if (now === 'nudge') {
        const { u, v } = point(to)
        const by = controlsNow().nudge
        const sideways = Math.abs(u) > Math.abs(v)
        void order({
          t: 'nudge',
          camera: id,
          right: sideways ? Math.sign(u) * by : 0,
          up: sideways ? 0 : Math.sign(v) * by,
          pace,
        })
      } else if (now === 'frame') {
        const small = Math.abs(from.x - to.x) < LEAST_BOX * w || Math.abs(from.y - to.y) < LEAST_BOX * h
        if (small) return
        const [a, b] = [point(from), point(to)]
        void order({ t: 'frame', camera: id, u0: a.u, v0: a.v, u1: b.u, v1: b.v, pace })
      }
    }
    const onEnd = (event: PointerEvent) => {
      if (!pointers.delete(event.pointerId)) return
      if (finger?.id === event.pointerId) {
        finger.at = placeOf(event)
        liftFinger()
      } else if (started && !pinch && event.type === 'pointerup') act(started, placeOf(event))
      started = null
      setBox(null)
      if (pointers.size === 0) pinch = null
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    element.addEventListener('pointerdown', onDown)
    element.addEventListener('pointermove', onMove)
    element.addEventListener('pointerup', onEnd)
    element.addEventListener('pointercancel', onEnd)
    window.addEventListener('blur', liftFinger)
    return () => {
      liftFinger()
      element.removeEventListener('wheel', onWheel)
      element.removeEventListener('pointerdown', onDown)
      element.removeEventListener('pointermove', onMove)
      element.removeEventListener('pointerup', onEnd)
      element.removeEventListener('pointercancel', onEnd)
      window.removeEventListener('blur', liftFinger)
    }
  }, [])

  const cursor = !enabled
    ? 'not-allowed'
    : tool === 'store'
      ? 'grab'
      : tool === 'follow'
        ? 'move'
        : 'crosshair'
  return (
    <View
      ref={area as never}
      testID="picture-tools"
      style={[styles.area, { width, height }, web({ touchAction: 'none', userSelect: 'none', cursor })]}
    >
      {box || mark ? (
        <Svg width={width} height={height} style={styles.through}>
          {box ? (
            <Rect
              x={Math.min(box.from.x, box.to.x)}
              y={Math.min(box.from.y, box.to.y)}
              width={Math.abs(box.from.x - box.to.x)}
              height={Math.abs(box.from.y - box.to.y)}
              fill={TONES.heron}
              fillOpacity={0.12}
              stroke={TONES.heron}
              strokeWidth={2}
            />
          ) : null}
          {mark ? (
            <>
              <Circle cx={mark.x} cy={mark.y} r={16} fill="none" stroke={TONES.heron} strokeWidth={2} />
              <Line x1={mark.x - 24} y1={mark.y} x2={mark.x + 24} y2={mark.y} stroke={TONES.heron} />
              <Line x1={mark.x} y1={mark.y - 24} x2={mark.x} y2={mark.y + 24} stroke={TONES.heron} />
            </>
          ) : null}
        </Svg>
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  area: { position: 'absolute', left: 0, top: 0 },
  through: { pointerEvents: 'none' },
})
