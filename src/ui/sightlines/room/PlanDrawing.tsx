/** The plan of the room from above, moved and brought closer by hand: cameras, what each sees, points, presets. */
import { type ReactNode, useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react'
import type { Px } from '../../../core/survey/map'
import { FACES, RADIUS, TONES } from '../../theme/tones'
import { useMapHand } from '../useMapHand'
import { type Extent, type Size, toMap, type Viewport, whole } from '../viewport'

/** On a screen lower than this what is drawn gets smaller, down to the least. */
const [FULL, LEAST] = [300, 0.6]

interface PlanDrawingProps {
  extent: Extent
  size: Size
  label: string
  onPlace(at: Px, px: number): void
  /** In px of the drawing; `px` is one pixel of the screen. */
  children(px: number): ReactNode
}

export function PlanDrawing({ extent, size, label, onPlace, children }: PlanDrawingProps) {
  const frame = useRef<HTMLDivElement | null>(null)
  const layer = useRef<HTMLDivElement | null>(null)
  const view = useRef<Viewport>(whole(extent, size))
  const [scale, setScale] = useState(view.current.scale)
  const place = useCallback(() => {
    const { x, y, scale: s } = view.current
    if (layer.current) layer.current.style.transform = `translate(${x}px, ${y}px) scale(${s})`
    setScale((was) => (Math.abs(Math.log(s / was)) > 0.08 ? s : was))
  }, [])
  // biome-ignore lint/correctness/useExhaustiveDependencies: only for another drawing or window
  useLayoutEffect(() => {
    view.current = whole(extent, size)
    setScale(view.current.scale)
    place()
  }, [extent.width, extent.height, size.width, size.height])
  useEffect(place, [place])
  useMapHand(frame, extent, size, view, {
    boxes: false,
    onMove: place,
    onTouch: (at) => onPlace(toMap(view.current, at), 1 / view.current.scale),
    onBox: () => {},
  })
  return (
    <div
      ref={frame}
      style={{
        ...{ position: 'relative', overflow: 'hidden', touchAction: 'none', userSelect: 'none' },
        ...{ width: size.width, height: size.height, borderRadius: RADIUS.large, background: TONES.marsh },
        cursor: 'crosshair',
      }}
      data-testid="room-plan"
      data-scale={scale}
    >
      <div ref={layer} style={{ position: 'absolute', transformOrigin: '0 0', left: 0, top: 0 }}>
        <svg
          width={extent.width}
          height={extent.height}
          style={{ position: 'absolute', left: 0, top: 0, overflow: 'visible', fontFamily: FACES.semiBold }}
          role="img"
          aria-label={label}
        >
          {children(Math.min(1, Math.max(LEAST, size.height / FULL)) / scale)}
        </svg>
      </div>
    </div>
  )
}
