/** The map of a survey: pieces of its picture, and all that is drawn on it, moved and brought closer by hand. */
import { type ReactNode, useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { Pressable, StyleSheet, View } from 'react-native'
import { aimed } from '../../core/presets/pose'
import type { Framing } from '../../core/survey/handles'
import { type Px, toPx } from '../../core/survey/map'
import type { SurveyView } from '../../core/survey/surveys'
import type { PresetView } from '../../server/api'
import { Words } from '../basics/Words'
import type { DeskCamera } from '../desk/useCamera'
import { under } from '../live/base'
import { SPOKEN, useTally } from '../tally/useTally'
import { RADIUS, TONES } from '../theme/tones'
import { FrameHandles } from './FrameHandles'
import { drawnPresets, LimitLines, LiveFrame, PresetFrames } from './MapFrames'
import { useMapHand } from './useMapHand'
import { around, filling, type Piece, piecesIn, type Size, toMap, type Viewport, whole } from './viewport'

export interface MapBox {
  a: Px
  b: Px
}

interface MapViewProps {
  survey: SurveyView
  camera: DeskCamera
  presets: readonly PresetView[]
  size: Size
  /** A drag draws a box. */
  boxes: boolean
  /** A touch on a preset's label is one on the map. */
  through: boolean
  onPlace(at: Px): void
  onBox(box: MapBox): void
  onPreset(id: string): void
  /** The preset whose frame has handles; null: none has. */
  changing?: string | null
  onFraming?(preset: string, framing: Framing): Promise<boolean>
  /** Drawn on top, at this scale of the map. */
  further?: (scale: number) => ReactNode
}

/** Labels nearer to each other than this would cover each other, px. */
const LABEL = { width: 96, height: 44 }

const keyOf = (pieces: readonly Piece[]) => pieces.map((p) => `${p.level}.${p.column}.${p.row}`).join()

export function MapView(props: MapViewProps) {
  const { survey, camera, presets, size, boxes, through, onPlace, onBox, onPreset, further } = props
  const { changing = null, onFraming } = props
  const { map, levels } = survey
  const frame = useRef<HTMLDivElement | null>(null)
  const layer = useRef<HTMLDivElement | null>(null)
  const view = useRef<Viewport>(whole(map, size))
  const [scale, setScale] = useState(view.current.scale)
  const [pieces, setPieces] = useState<Piece[]>([])
  const [box, setBox] = useState<MapBox | null>(null)
  const shown = useRef('')
  const tally = useTally(camera.view.id)

  const place = useCallback(() => {
    const { x, y, scale: s } = view.current
    if (layer.current) layer.current.style.transform = `translate(${x}px, ${y}px) scale(${s})`
    const seen = piecesIn(map, levels, size, view.current, globalThis.devicePixelRatio || 1)
    // React is told only when other pieces are seen, or lines and labels would become too thick or thin.
    if (keyOf(seen) !== shown.current) {
      shown.current = keyOf(seen)
      setPieces(seen)
    }
    setScale((was) => (Math.abs(Math.log(s / was)) > 0.08 ? s : was))
  }, [map, levels, size])

  const drawn = useMemo(() => drawnPresets(map, camera, presets), [map, camera, presets])
  // It begins with all presets in sight; without any, with the middle of the room.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only for another survey or window
  useLayoutEffect(() => {
    const points = drawn.flatMap((one) => one.points)
    const { pan, tilt } = camera.sight.seen
    const middle = toPx(map, {
      panDeg: Math.min(pan.maxDeg, Math.max(pan.minDeg, 0)),
      tiltDeg: Math.min(tilt.maxDeg, Math.max(tilt.minDeg, 0)),
    })
    view.current = points.length > 0 ? around(map, size, points) : filling(map, size, middle)
    setScale(view.current.scale)
    place()
  }, [survey.id, size.width, size.height])
  useEffect(place, [place])

  useMapHand(frame, map, size, view, {
    boxes,
    onMove: place,
    onTouch: (at) => onPlace(toMap(view.current, at)),
    onBox(drawn, done) {
      setBox(done ? null : drawn)
      if (done && drawn) onBox({ a: toMap(view.current, drawn.a), b: toMap(view.current, drawn.b) })
    },
  })

  // Where labels would cover each other, those of the larger frames stay.
  const labels = useMemo(() => {
    const taken: Px[] = []
    return drawn.filter(({ corner }) => {
      const free = taken.every(
        (p) =>
          Math.abs(p.x - corner.x) * scale > LABEL.width || Math.abs(p.y - corner.y) * scale > LABEL.height,
      )
      if (free) taken.push(corner)
      return free
    })
  }, [drawn, scale])
  const changed = drawn.find(({ preset }) => preset.id === changing)
  const stored = changed?.preset.pose ?? null
  const framing = useMemo(() => {
    const pose = aimed(stored)
    return pose ? camera.sight.view(pose) : null
  }, [stored, camera.sight])
  const tone = tally === 'program' ? TONES.air : tally === 'preview' ? TONES.preview : TONES.sand
  return (
    <div
      ref={frame}
      style={{
        ...{ position: 'relative', overflow: 'hidden', touchAction: 'none', userSelect: 'none' },
        ...{ width: size.width, height: size.height, borderRadius: RADIUS.large, background: TONES.marsh },
        cursor: boxes ? 'crosshair' : 'grab',
      }}
      data-testid="sightlines-map"
      data-scale={scale}
    >
      <div
        ref={layer}
        style={{ position: 'absolute', transformOrigin: '0 0', willChange: 'transform', left: 0, top: 0 }}
      >
        {pieces.map(({ level, column, row, left, top, width, height }) => (
          <img
            key={`${level}.${column}.${row}`}
            src={under(`/api/surveys/${survey.id}/tiles/${level}/${column}/${row}`)}
            alt=""
            draggable={false}
            style={{ position: 'absolute', left, top, width, height }}
          />
        ))}
        <svg
          width={map.width}
          height={map.height}
          style={{ position: 'absolute', left: 0, top: 0, overflow: 'visible' }}
          role="img"
          aria-label={`All that ${camera.view.name} can reach, with the frames of its presets${SPOKEN[tally]}`}
        >
          <LimitLines {...{ map, camera, scale }} />
          <PresetFrames {...{ drawn, scale }} />
          <LiveFrame {...{ map, camera, scale, tone, presets }} />
          {further?.(scale)}
        </svg>
        {labels.map(({ preset, corner }) => (
          <div
            key={preset.id}
            style={{
              ...{ position: 'absolute', left: corner.x, top: corner.y, transformOrigin: '0 100%' },
              transform: `translateY(-100%) scale(${1 / scale})`,
              pointerEvents: through ? 'none' : 'auto',
            }}
          >
            <Pressable
              accessibilityRole="button"
              accessibilityLabel={`${onFraming ? 'Change' : 'Recall'} ${preset.number} ${preset.name}`}
              onPress={() => onPreset(preset.id)}
              style={styles.label}
              testID={`label-${preset.number}`}
            >
              <Words size={13} weight="semiBold" numberOfLines={1} style={styles.words}>
                {preset.number} {preset.name}
              </Words>
            </Pressable>
          </div>
        ))}
        {changed && framing ? (
          <FrameHandles
            key={changed.preset.id}
            {...{ map, camera, framing, scale, frame }}
            name={`${changed.preset.number} ${changed.preset.name}`}
            viewport={view}
            onFraming={async (to) => (await onFraming?.(changed.preset.id, to)) ?? false}
          />
        ) : null}
      </div>
      {box ? (
        <div
          style={{
            ...{ position: 'absolute', pointerEvents: 'none', border: `2px solid ${TONES.sand}` },
            left: Math.min(box.a.x, box.b.x),
            top: Math.min(box.a.y, box.b.y),
            width: Math.abs(box.a.x - box.b.x),
            height: Math.abs(box.a.y - box.b.y),
          }}
        />
      ) : null}
      {tally === 'program' || tally === 'preview' ? (
        <View style={styles.tally}>
          <Words size={14} weight="bold" style={{ color: tone }}>
            {tally === 'program' ? 'on air' : 'preview'}
          </Words>
        </View>
      ) : null}
    </div>
  )
}

const styles = StyleSheet.create({
  label: { minHeight: 44, justifyContent: 'flex-end', maxWidth: 150 },
  words: {
    ...{ backgroundColor: `${TONES.ink}D8`, paddingHorizontal: 6, paddingVertical: 2 },
    ...{ borderRadius: RADIUS.small, overflow: 'hidden' },
  },
  tally: {
    ...{ position: 'absolute', right: 10, top: 10, paddingHorizontal: 10, paddingVertical: 4 },
    ...{ borderRadius: RADIUS.middle, backgroundColor: `${TONES.ink}E0`, pointerEvents: 'none' },
  },
})
