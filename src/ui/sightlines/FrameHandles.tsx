/** A chosen preset's frame with its handles: its middle moves it, its corner makes it larger or smaller. */
import { type RefObject, useEffect, useRef, useState } from 'react'
import { vfovOf } from '../../core/optics/lens'
import { type Framing, movedTo, sizedBy, sizedTo } from '../../core/survey/handles'
import { frameOn, type Px, type SurveyMap, toPanTilt, toPx } from '../../core/survey/map'
import type { DeskCamera } from '../desk/useCamera'
import { TONES } from '../theme/tones'
import { pathOf } from './MapFrames'
import { toMap, type Viewport } from './viewport'

/** By an arrow key, of the frame's width; by plus and minus. */
const NUDGE = 0.05
const LARGER = 1.1
const HANDLE_PX = 44

const ARROWS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
}

interface FrameHandlesProps {
  map: SurveyMap
  camera: DeskCamera
  /** What it is called. */
  name: string
  framing: Framing
  scale: number
  frame: RefObject<HTMLDivElement | null>
  viewport: RefObject<Viewport>
  /** When it is let go of. @returns whether it is kept */
  onFraming(framing: Framing): Promise<boolean>
}

export function FrameHandles(props: FrameHandlesProps) {
  const { map, camera, name, framing, scale, frame, viewport, onFraming } = props
  const [draft, setDraft] = useState(framing)
  const held = useRef<{ draft: Framing; off: Px } | null>(null)
  useEffect(() => {
    if (!held.current) setDraft(framing)
  }, [framing])
  const { sight, profile } = camera
  const { aspect } = profile.lens
  const view = { ...draft, vfovDeg: vfovOf(draft.hfovDeg, aspect) }
  const points = frameOn(map, { ...view, ...(profile.lens.bend ? { bend: profile.lens.bend } : {}) })
  const middle = toPx(map, draft)
  const corner = points[points.length / 2]!
  const at = (event: React.PointerEvent): Px => {
    const { left, top } = frame.current!.getBoundingClientRect()
    return toMap(viewport.current, { x: event.clientX - left, y: event.clientY - top })
  }
  const keep = (next: Framing) => {
    if (next === framing) return
    void onFraming(next).then((kept) => {
      if (!kept) setDraft(framing)
    })
  }
  const handle = (kind: 'move' | 'size', place: Px) => ({
    onPointerDown(event: React.PointerEvent) {
      event.currentTarget.setPointerCapture(event.pointerId)
      const touched = at(event)
      held.current = { draft, off: { x: place.x - touched.x, y: place.y - touched.y } }
    },
    onPointerMove(event: React.PointerEvent) {
      if (!held.current) return
      const touched = at(event)
      const to = toPanTilt(map, { x: touched.x + held.current.off.x, y: touched.y + held.current.off.y })
      const next = kind === 'move' ? movedTo(draft, to, sight) : sizedTo(draft, to, aspect, sight)
      held.current.draft = next
      setDraft(next)
    },
    onPointerUp() {
      const done = held.current
      held.current = null
      if (done) keep(done.draft)
    },
    onPointerCancel() {
      held.current = null
      setDraft(framing)
    },
    onKeyDown(event: React.KeyboardEvent) {
      const way = ARROWS[event.key]
      const factor = event.key === '+' ? LARGER : event.key === '-' ? 1 / LARGER : null
      if (!way && factor === null) return
      event.preventDefault()
      // The arrows belong to the focused control, not to the camera.
      event.stopPropagation()
      const step = draft.hfovDeg * NUDGE
      const next = way
        ? movedTo(
            draft,
            { panDeg: draft.panDeg + way[0] * step, tiltDeg: draft.tiltDeg + way[1] * step },
            sight,
          )
        : sizedBy(draft, factor!, sight)
      setDraft(next)
    },
    onKeyUp(event: React.KeyboardEvent) {
      // A key that is held says it many times; it is kept when it is let go of.
      if (ARROWS[event.key] || event.key === '+' || event.key === '-') keep(draft)
    },
  })
  const styleAt = ({ x, y }: Px): React.CSSProperties => ({
    ...{ position: 'absolute', left: x, top: y, width: HANDLE_PX, height: HANDLE_PX },
    ...{ transformOrigin: '50% 50%', touchAction: 'none', cursor: 'grab' },
    transform: `translate(-50%, -50%) scale(${1 / scale})`,
    ...{ display: 'flex', alignItems: 'center', justifyContent: 'center' },
    ...{ background: 'none', border: 'none', padding: 0 },
  })
  const knob: React.CSSProperties = {
    ...{ width: 22, height: 22, boxSizing: 'border-box', background: TONES.ink },
    border: `3px solid ${TONES.sand}`,
  }
  return (
    <>
      <svg
        width={map.width}
        height={map.height}
        style={{ position: 'absolute', left: 0, top: 0, overflow: 'visible', pointerEvents: 'none' }}
        aria-hidden
      >
        <path
          d={pathOf(points)}
          fill={TONES.sand}
          fillOpacity={0.12}
          stroke={TONES.sand}
          strokeWidth={3 / scale}
          data-testid="changed-frame"
          data-pan={draft.panDeg.toFixed(2)}
          data-tilt={draft.tiltDeg.toFixed(2)}
          data-hfov={draft.hfovDeg.toFixed(2)}
        />
      </svg>
      <button
        type="button"
        aria-label={`Move the frame of ${name}. Arrow keys move it, plus and minus resize it.`}
        style={styleAt(middle)}
        data-testid="move-frame"
        {...handle('move', middle)}
      >
        <div style={{ ...knob, borderRadius: 11 }} />
      </button>
      <button
        type="button"
        aria-label={`Resize the frame of ${name}. Plus and minus resize it.`}
        style={{ ...styleAt(corner), cursor: 'nwse-resize' }}
        data-testid="size-frame"
        {...handle('size', corner)}
      >
        <div style={knob} />
      </button>
    </>
  )
}
