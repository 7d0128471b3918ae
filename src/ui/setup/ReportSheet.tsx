/** The camera report: what goes over the wire, live, in plain words. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import Svg, { Line, Path, Rect } from 'react-native-svg'
import useSWR from 'swr'
import type { CameraReport } from '../../core/cameras/report'
import type { CameraView } from '../../server/api'
import { readReport } from '../api/client'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'
import { saveFrom } from './files'

const EVERY_MS = 1000
const SHOWN = 120

const time = (atMs: number) => {
  const at = new Date(atMs)
  const two = (n: number) => String(n).padStart(2, '0')
  return `${two(at.getHours())}:${two(at.getMinutes())}:${two(at.getSeconds())}.${String(at.getMilliseconds()).padStart(3, '0')}`
}

export function ReportSheet({ view, onClose }: { view: CameraView; onClose(): void }) {
  const [paused, setPaused] = useState(false)
  const [filter, setFilter] = useState('')
  const { data, error } = useSWR<CameraReport, Error>(['report', view.id], () => readReport(view.id), {
    refreshInterval: paused ? 0 : EVERY_MS,
    revalidateOnFocus: false,
    isPaused: () => paused,
    keepPreviousData: true,
  })
  const wanted = filter.trim().toLowerCase()
  const packets = (data?.packets ?? []).filter((p) => `${p.words} ${p.raw}`.toLowerCase().includes(wanted))
  const foot = (
    <>
      <Key label={paused ? 'Go on' : 'Pause'} onPress={() => setPaused(!paused)} testID="pause-report" />
      <View style={styles.space} />
      <Key
        label="Save the report"
        tone="filled"
        onPress={() => saveFrom(`/api/cameras/${view.id}/report/file`)}
        testID="save-report"
      />
    </>
  )
  return (
    <Sheet
      title={`Camera report: ${view.number} ${view.name}`}
      onClose={onClose}
      foot={foot}
      maxWidth={860}
      testID="report-sheet"
    >
      {error && !data ? <Words tone="clay">{error.message}</Words> : null}
      {!data && !error ? <Words tone="mist">Reading what went over the wire…</Words> : null}
      {data ? (
        <>
          <LastHour history={data.history} />
          <Sentences title="Odd about it" none="Nothing that was met so far." list={data.quirks} />
          <Sentences title="Learnt of it" none="Nothing yet." list={data.learnt} />
          {data.failures.map((failure) => (
            <Words key={failure.atMs} size={14} tone="clay">
              {`Failed at ${time(failure.atMs)}: ${failure.why} The ${failure.packets.length} packets of the minute before are in the saved report.`}
            </Words>
          ))}
          <Field
            label="Show only packets with"
            value={filter}
            placeholder="recall"
            onChangeText={setFilter}
            testID="filter-report"
          />
          <View style={styles.packets} testID="report-packets">
            {packets.length === 0 ? (
              <Words tone="mist">
                {wanted ? 'No packet of the last 500 has this in it.' : 'Nothing went over the wire yet.'}
              </Words>
            ) : null}
            {packets
              .slice(-SHOWN)
              .reverse()
              .map((p, i) => (
                <View key={`${p.atMs} ${i}`} style={styles.packet}>
                  <Words size={12} tone="mist" style={styles.time}>
                    {time(p.atMs)}
                  </Words>
                  <Words size={13} tone={p.way === 'out' ? 'heron' : 'sand'} style={styles.way}>
                    {p.way === 'out' ? 'sent' : 'came'}
                  </Words>
                  <View style={styles.what}>
                    <Words size={14}>{p.words}</Words>
                    <Words size={11} tone="mist" numberOfLines={2}>
                      {p.raw}
                    </Words>
                  </View>
                </View>
              ))}
          </View>
        </>
      ) : null}
    </Sheet>
  )
}

function Sentences({ title, none, list }: { title: string; none: string; list: readonly string[] }) {
  return (
    <View style={styles.sentences}>
      <Words size={13} tone="mist">
        {title}
      </Words>
      {(list.length > 0 ? list : [none]).map((text) => (
        <Words key={text} size={14}>
          {text}
        </Words>
      ))}
    </View>
  )
}

const WIDTH = 360
const HEIGHT = 54

/** Round trip as a line, loss as bars, silences as a ground. */
/** What has just begun is not squeezed into a corner of an hour. */
const SHORTEST_MS = 60_000
const HOUR_MS = 3_600_000
const spanWords = (ms: number): string => {
  const minutes = Math.round(ms / 60_000)
  if (ms > 0.95 * HOUR_MS) return 'The last hour'
  return minutes <= 1 ? 'The last minute' : `The last ${minutes} minutes`
}

function LastHour({ history }: Pick<CameraReport, 'history'>) {
  const first = history[0]
  if (!first || history.length < 2) return null
  const span = Math.max(SHORTEST_MS, history[history.length - 1]!.atMs - first.atMs)
  const x = (atMs: number) => ((atMs - first.atMs) / span) * WIDTH
  const most = Math.max(20, ...history.map((s) => s.roundTripMs ?? 0))
  const y = (ms: number) => HEIGHT - 2 - (ms / most) * (HEIGHT - 8)
  const known = history.filter((s) => s.roundTripMs !== null)
  const path = known.map(
    (s, i) => `${i === 0 ? 'M' : 'L'}${x(s.atMs).toFixed(1)} ${y(s.roundTripMs!).toFixed(1)}`,
  )
  const step = Math.max(1.5, x(first.atMs + 10_000))
  return (
    <View style={styles.sentences}>
      <Words size={13} tone="mist">
        {`${spanWords(span)}: round trip (line, up to ${most.toFixed(0)} ms), loss (bars), silences (clay ground)`}
      </Words>
      <Svg width="100%" height={HEIGHT} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="none">
        {history.map((s) =>
          s.silent ? (
            <Rect
              key={s.atMs}
              x={x(s.atMs)}
              y={0}
              width={step}
              height={HEIGHT}
              fill={TONES.clay}
              opacity={0.35}
            />
          ) : s.loss > 0.005 ? (
            <Rect
              key={s.atMs}
              x={x(s.atMs)}
              y={HEIGHT - s.loss * HEIGHT}
              width={step}
              height={s.loss * HEIGHT}
              fill={TONES.mist}
              opacity={0.5}
            />
          ) : null,
        )}
        <Line x1={0} y1={HEIGHT - 1} x2={WIDTH} y2={HEIGHT - 1} stroke={TONES.line} />
        <Path d={path.join(' ')} stroke={TONES.heron} strokeWidth={1.5} fill="none" />
      </Svg>
    </View>
  )
}

const styles = StyleSheet.create({
  space: { flex: 1 },
  sentences: { gap: 3 },
  packets: {
    gap: 6,
    padding: 8,
    borderRadius: RADIUS.small,
    backgroundColor: TONES.ink,
  },
  packet: { flexDirection: 'row', gap: 8 },
  time: { width: 86, fontVariant: ['tabular-nums'] },
  way: { width: 40 },
  what: { flex: 1 },
})
