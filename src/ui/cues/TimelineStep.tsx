/** One step in its lane: a hill for a move, a dot for what takes no time. It is dragged along, or moved with arrows. */
import { memo, useRef, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import Svg, { Path } from 'react-native-svg'
import type { PredictedStep } from '../../core/cues/predict'
import { useDescription } from '../basics/useDescription'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'
import { web } from '../theme/web'
import { hillPath, type Scale, secondsAt, xOf } from './timelineScale'
import { type StepWords, secondsText } from './words'

const HILL = 40
const TOP = 4
const LEAST_WIDTH = 14
/** A finger that moves less than this has pressed, px. */
const SLOP = 5

interface TimelineStepProps {
  one: PredictedStep
  words: StepWords
  scale: Scale
  /** The speed that is drawn as high as there is room. */
  most: number
  selected: boolean
  faulty: boolean
  state: string | null
  snap(id: string, wanted: number): number
  onSelect(id: string): void
  onShift(id: string, seconds: number): void
}

export const TimelineStep = memo(function TimelineStep(props: TimelineStepProps) {
  const { one, words, scale, most, selected, faulty, state, snap, onSelect, onShift } = props
  const { path, startS, endS, hill, endless } = one
  const id = path[0]!
  // What belongs to a cue within this one is changed there.
  const own = path.length === 1
  const [by, setBy] = useState(0)
  const drag = useRef<{ fromX: number; moved: boolean } | null>(null)
  const length = xOf(scale, endS - startS)
  const width = Math.max(LEAST_WIDTH, length)
  const shiftAt = (clientX: number) => {
    const wanted = startS + secondsAt(scale, clientX - drag.current!.fromX)
    return own ? snap(id, wanted) - startS : 0
  }
  const handlers = {
    onPointerDown(event: PointerEvent & { currentTarget: Element }) {
      if (event.button !== 0) return
      drag.current = { fromX: event.clientX, moved: false }
      event.currentTarget.setPointerCapture(event.pointerId)
    },
    onPointerMove({ clientX }: PointerEvent) {
      const now = drag.current
      if (!now) return
      now.moved ||= Math.abs(clientX - now.fromX) > SLOP
      if (now.moved) setBy(shiftAt(clientX))
    },
    onPointerUp({ clientX }: PointerEvent) {
      const now = drag.current
      if (!now) return
      const shift = now.moved ? shiftAt(clientX) : 0
      drag.current = null
      setBy(0)
      if (!now.moved) onSelect(id)
      else if (Math.abs(shift) > 1e-6) onShift(id, shift)
    },
    onPointerCancel() {
      drag.current = null
      setBy(0)
    },
    onKeyDown(event: KeyboardEvent) {
      const to = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
      if (event.key === 'Enter' || event.key === ' ') {
        event.preventDefault()
        onSelect(id)
      } else if (to && own) {
        event.preventDefault()
        event.stopPropagation()
        onShift(id, to * (event.shiftKey ? 0.1 : 0.5))
      }
    },
  }
  const moved = startS + by
  const isMove = hill.length > 1 && length > 1
  const ink = faulty ? TONES.clay : state === 'running' ? TONES.sand : TONES.heron
  const { described, description } = useDescription(
    `at ${secondsText(moved)}${faulty ? ', see the findings' : ''}`,
  )
  return (
    <View
      style={[
        styles.step,
        { left: xOf(scale, moved) - (isMove ? 0 : LEAST_WIDTH / 2), width },
        by !== 0 && styles.dragged,
        web({ cursor: own ? 'grab' : 'default', touchAction: 'pan-y' }),
      ]}
      accessibilityRole="button"
      {...described}
      testID={`step-${path.join('-')}`}
      tabIndex={0}
      {...(handlers as object)}
    >
      {isMove ? (
        <Svg width={width} height={HILL} style={styles.hill}>
          <Path
            d={hillPath(hill, width, HILL, most)}
            fill={state === 'done' ? TONES.reed : TONES.heronFilled}
            stroke={ink}
            strokeWidth={selected ? 3 : 1.5}
            strokeDasharray={endless ? '5 4' : undefined}
          />
        </Svg>
      ) : (
        <View style={styles.dotRoom}>
          <View style={[styles.dot, { backgroundColor: ink }, selected && styles.chosen]} />
          {length > LEAST_WIDTH ? <View style={[styles.span, { width: length, borderColor: ink }]} /> : null}
        </View>
      )}
      <View style={[styles.label, !isMove && (length > LEAST_WIDTH ? styles.belowLine : styles.dotLabel)]}>
        <Words
          size={12}
          weight={selected ? 'bold' : 'regular'}
          tone={faulty ? 'clay' : 'sand'}
          numberOfLines={1}
        >
          {`${faulty ? '△ ' : ''}${words.title}`}
        </Words>
        <Words size={12} tone="mist" numberOfLines={1}>
          {by !== 0
            ? secondsText(moved)
            : state === 'failed'
              ? 'failed'
              : state === 'out'
                ? 'left out'
                : words.detail}
        </Words>
      </View>
      {description}
    </View>
  )
})

const styles = StyleSheet.create({
  step: { position: 'absolute', top: TOP, height: HILL + 18, minHeight: 44, borderRadius: RADIUS.small },
  dragged: { zIndex: 2, opacity: 0.9 },
  hill: { position: 'absolute', top: 0, left: 0 },
  dotRoom: { height: HILL, justifyContent: 'flex-end' },
  dot: {
    width: LEAST_WIDTH,
    height: LEAST_WIDTH,
    borderRadius: LEAST_WIDTH / 2,
    marginBottom: -LEAST_WIDTH / 2,
  },
  chosen: { outlineColor: TONES.sand, outlineWidth: 2, outlineStyle: 'solid' },
  span: { position: 'absolute', bottom: 0, left: LEAST_WIDTH / 2, borderBottomWidth: 2 },
  label: {
    position: 'absolute',
    top: HILL + 1,
    left: 2,
    flexDirection: 'row',
    gap: 5,
    pointerEvents: 'none',
    ...({ width: 'max-content', maxWidth: 240 } as object),
  },
  belowLine: { left: LEAST_WIDTH / 2, top: HILL + 4 },
  dotLabel: { left: LEAST_WIDTH + 2, top: HILL - 9 },
})
