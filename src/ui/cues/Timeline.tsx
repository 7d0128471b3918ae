/**
 * A cue over time: a lane for each camera and device, moves as hills, a red ground while a camera is on air. Steps are
 * dragged in time, or moved with the arrow keys.
 */
import { memo, useMemo, useState } from 'react'
import { type LayoutChangeEvent, ScrollView, StyleSheet, View } from 'react-native'
import type { Finding } from '../../core/cues/check'
import type { RunNow } from '../../core/cues/now'
import type { PredictedStep, Prediction } from '../../core/cues/predict'
import type { CueView } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { TONES } from '../theme/tones'
import { TimelineStep } from './TimelineStep'
import { marksOf, type Scale, scaleFor, snapped, xOf } from './timelineScale'
import { useInto } from './useShow'
import { laneName, secondsText, stepWords } from './words'

const NAMES = 132
export const LANE = 64

interface TimelineProps {
  desk: DeskView
  cue: CueView
  prediction: Prediction
  findings: readonly Finding[]
  selected: string | null
  onSelect(step: string): void
  /** @param seconds later than it is, negative: earlier */
  onShift(step: string, seconds: number): void
  run: RunNow | null
  held: boolean
  /** One lane at a time. */
  narrow: boolean
}

interface Lane {
  lane: string
  name: string
  steps: PredictedStep[]
}

function lanesOf(desk: DeskView, prediction: Prediction): Lane[] {
  const lanes = new Map<string, PredictedStep[]>()
  for (const one of prediction.steps) {
    const { lane } = stepWords(desk, one.step.does)
    lanes.set(lane, [...(lanes.get(lane) ?? []), one])
  }
  for (const { camera } of prediction.air)
    if (!lanes.has(`camera ${camera}`)) lanes.set(`camera ${camera}`, [])
  const rank = (lane: string) => {
    const [kind, id] = lane.split(' ')
    if (kind === 'camera') return desk.cameras.findIndex((c) => c.id === id)
    if (kind === 'switcher') return 1000
    return kind === 'device' ? 2000 + desk.devices.findIndex((d) => d.id === id) : 9000
  }
  return [...lanes]
    .map(([lane, steps]) => ({ lane, steps, name: laneName(desk, lane) }))
    .sort((a, b) => rank(a.lane) - rank(b.lane))
}

export const Timeline = memo(function Timeline(props: TimelineProps) {
  const { desk, cue, prediction, findings, selected, onSelect, onShift, run, held, narrow } = props
  const [room, setRoom] = useState(0)
  const [chosen, setChosen] = useState<string | null>(null)
  const lanes = useMemo(() => lanesOf(desk, prediction), [desk, prediction])
  const width = Math.max(0, room - (narrow ? 0 : NAMES))
  const scale = useMemo(() => scaleFor(width, prediction.seconds), [width, prediction.seconds])
  const most = Math.max(1e-6, ...prediction.steps.flatMap(({ hill }) => hill))
  const cuts = prediction.steps.filter(
    ({ step }) => step.does.t === 'switch' && step.does.action !== 'preview',
  )
  const faulty = useMemo(() => new Set(findings.map(({ step }) => step)), [findings])
  const shown = narrow ? lanes.filter(({ lane }) => lane === (chosen ?? lanes[0]?.lane)) : lanes
  const snap = (id: string, wanted: number) => {
    const others = prediction.steps.filter(({ path }) => path.length === 1 && path[0] !== id)
    return snapped(
      scale,
      wanted,
      others.flatMap(({ startS, endS }) => [startS, endS]),
    )
  }
  const measure = ({ nativeEvent }: LayoutChangeEvent) => setRoom(nativeEvent.layout.width)
  if (prediction.steps.length === 0)
    return (
      <Words tone="mist" style={styles.empty}>
        Nothing happens yet. Add a step below, or record what you do.
      </Words>
    )
  return (
    <View onLayout={measure} testID="timeline">
      {narrow ? (
        <ScrollView horizontal contentContainerStyle={styles.chips} showsHorizontalScrollIndicator={false}>
          {lanes.map(({ lane, name }) => (
            <Key
              key={lane}
              label={name}
              on={shown[0]?.lane === lane}
              onPress={() => setChosen(lane)}
              testID={`lane-key-${name}`}
            />
          ))}
        </ScrollView>
      ) : null}
      {width > 0 ? (
        <View>
          <Marks scale={scale} left={narrow ? 0 : NAMES} lanes={shown.length} />
          {shown.map(({ lane, name, steps }) => (
            <View key={lane} style={styles.lane} testID={`lane-${name}`}>
              {narrow ? null : (
                <Words size={14} weight="semiBold" numberOfLines={2} style={styles.name}>
                  {name}
                </Words>
              )}
              <View style={[styles.track, { width }]}>
                {prediction.air
                  .filter(({ camera }) => `camera ${camera}` === lane)
                  .map(({ fromS, toS }) => (
                    <Air key={fromS} scale={scale} fromS={fromS} toS={toS} />
                  ))}
                {steps.map((one) => (
                  <TimelineStep
                    key={one.path.join(' ')}
                    one={one}
                    words={stepWords(desk, one.step.does)}
                    scale={scale}
                    most={most}
                    selected={one.path[0] === selected}
                    faulty={one.path.length === 1 && faulty.has(one.path[0]!)}
                    state={
                      run?.steps.find(({ id }) => one.path.length === 1 && id === one.path[0])?.state ?? null
                    }
                    snap={snap}
                    onSelect={onSelect}
                    onShift={onShift}
                  />
                ))}
              </View>
            </View>
          ))}
          <View style={[styles.over, { left: narrow ? 0 : NAMES, width }]}>
            {cuts.map(({ path, startS }) => (
              <View key={path.join(' ')} style={[styles.cut, { left: xOf(scale, startS) }]} />
            ))}
            {run ? <PlayHead run={run} held={held} scale={scale} /> : null}
          </View>
        </View>
      ) : null}
      <Words size={12} tone="mist" style={styles.legend}>
        {`A hill is a move: its height is the speed on the screen. Red is on air. ${secondsText(prediction.seconds)} in all${cue.times === 0 ? ', until it is stopped' : cue.times > 1 ? `, ${cue.times} times` : ''}.`}
      </Words>
    </View>
  )
})

function Marks({ scale, left, lanes }: { scale: Scale; left: number; lanes: number }) {
  return (
    <View style={[styles.marks, { marginLeft: left, width: scale.width }]}>
      {marksOf(scale)
        .filter((s) => xOf(scale, s) < scale.width - 18)
        .map((s) => (
          <View key={s} style={[styles.mark, { left: xOf(scale, s), height: 20 + lanes * LANE }]}>
            <Words size={12} tone="mist" style={styles.markText}>
              {s >= 60 ? `${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}` : `${s} s`}
            </Words>
          </View>
        ))}
    </View>
  )
}

function Air({ scale, fromS, toS }: { scale: Scale; fromS: number; toS: number | null }) {
  const [left, right] = [xOf(scale, fromS), xOf(scale, Math.min(scale.seconds, toS ?? scale.seconds))]
  const wide = right - left > 52
  return (
    <View style={[styles.air, { left, width: Math.max(2, right - left) }]} testID="air">
      {wide ? (
        <Words size={11} weight="bold" style={styles.airWord}>
          on air
        </Words>
      ) : null}
    </View>
  )
}

function PlayHead({ run, held, scale }: { run: RunNow; held: boolean; scale: Scale }) {
  const into = useInto(run, held, 33)
  if (run.state !== 'running' || into > scale.seconds) return null
  return <View style={[styles.head, { transform: [{ translateX: xOf(scale, into) }] }]} testID="play-head" />
}

const styles = StyleSheet.create({
  empty: { paddingVertical: 18 },
  chips: { gap: 6, paddingBottom: 8 },
  marks: { height: 20 },
  mark: { position: 'absolute', top: 0, width: 1, borderLeftWidth: 1, borderLeftColor: TONES.reed },
  markText: { position: 'absolute', left: -16, top: 0, width: 40, textAlign: 'center' },
  lane: { flexDirection: 'row', height: LANE },
  name: { width: NAMES, paddingRight: 8, paddingTop: 22 },
  track: { height: LANE, borderBottomWidth: 0 },
  air: {
    position: 'absolute',
    top: 4,
    height: 40,
    backgroundColor: 'rgba(229,72,77,0.16)',
    borderBottomWidth: 4,
    borderBottomColor: TONES.air,
  },
  airWord: { color: '#F0888B', position: 'absolute', right: 6, top: 0 },
  over: { position: 'absolute', top: 18, bottom: 0, pointerEvents: 'none' },
  cut: {
    position: 'absolute',
    top: 0,
    bottom: 0,
    borderLeftWidth: 1,
    borderStyle: 'dashed',
    borderLeftColor: TONES.mist,
  },
  head: { position: 'absolute', top: 0, bottom: 0, width: 2, backgroundColor: TONES.sand },
  legend: { paddingTop: 8 },
})
