/** What runs, what is next, and the key that starts it; Stop all is always in reach. */
import ChevronLeft from 'lucide-react-native/icons/chevron-left'
import ChevronRight from 'lucide-react-native/icons/chevron-right'
import { memo } from 'react'
import { Pressable, StyleSheet, View } from 'react-native'
import { keyOf } from '../../core/controls/actions'
import type { RunNow } from '../../core/cues/now'
import { listed, nextOf } from '../../core/cues/order'
import type { DeskView } from '../../server/api'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { useControls } from '../input/controlsStore'
import { RADIUS, TONES, TOUCH } from '../theme/tones'
import { go, hold, step, stop, stopEverything } from './runActions'
import { clockText, useInto, useLate, useShow } from './useShow'
import { secondsText } from './words'

/** A start by the clock that is so near is said beside what is next. */
const SOON_MS = 30 * 60_000

interface GoBarProps {
  desk: DeskView
  /** As on a phone: two rows. */
  narrow?: boolean
  /** In a low window: one row of keys, with the names alone. */
  low?: boolean
  /** Opens a cue. */
  onOpen?: (cue: string) => void
}

export const GoBar = memo(function GoBar({ desk, narrow = false, low = false, onOpen }: GoBarProps) {
  const show = useShow()
  const late = useLate(desk, show)
  const { keys } = useControls()
  const { cues } = desk.show
  const next = nextOf(cues, show.position)
  const order = listed(cues)
  const after = next ? order[order.findIndex(({ id }) => id === next.id) + 1] : null
  const running = show.runs.filter(({ state }) => state === 'running')
  const ended = show.runs.find(({ state }) => state !== 'running')
  const stopKey = (
    <Key
      label="Stop all"
      description="Ends all cues, and stops every camera softly"
      onPress={() => void stopEverything()}
      shortcut={narrow ? null : keyOf('stopAll', keys).toUpperCase() || null}
      style={low ? undefined : narrow ? styles.stopNarrow : styles.stop}
      testID="stop-all"
    />
  )
  const goKey = (
    <Key
      label={narrow && next && running.length > 0 ? `Go: ${next.name}` : 'Go'}
      tone="filled"
      disabled={!next || show.held}
      shortcut={narrow ? null : keyOf('go', keys).toUpperCase() || null}
      onPress={go}
      description={next ? `Starts ${next.name}` : undefined}
      style={low ? styles.goLow : narrow ? styles.goNarrow : styles.go}
      testID="go"
    />
  )
  const holdKey = (
    <Key
      label={show.held ? 'Go on' : 'Hold'}
      on={show.held}
      onPress={() => hold(!show.held)}
      style={narrow || low ? undefined : styles.hold}
      testID="hold"
    />
  )
  const soon = show.next && show.next.atMs - Date.now() < SOON_MS ? clockWords(desk, show.next) : null
  const nextCard = (
    <Pressable
      onPress={() => next && onOpen?.(next.id)}
      disabled={!next || !onOpen}
      accessibilityRole="button"
      style={[styles.card, styles.next]}
      testID="next-cue"
    >
      <Words size={13} tone={show.held ? 'clay' : 'mist'} numberOfLines={1}>
        {show.held ? 'held' : ['next', next?.expected, late].filter(Boolean).join(' · ')}
      </Words>
      <Words size={16} weight="bold" numberOfLines={1}>
        {next?.name ?? (order.length === 0 ? 'No cues yet' : 'The order is through')}
      </Words>
      <Words size={13} tone="mist" numberOfLines={1}>
        {soon ??
          (next ? next.notes || `${next.steps.length} ${next.steps.length === 1 ? 'step' : 'steps'}` : ' ')}
      </Words>
    </Pressable>
  )
  const beside = (by: 1 | -1) => (
    <Key
      label=""
      accessibilityLabel={by === 1 ? 'Skip to the cue after' : 'Back to the cue before'}
      icon={
        by === 1 ? (
          <ChevronRight size={20} color={TONES.mist} />
        ) : (
          <ChevronLeft size={20} color={TONES.mist} />
        )
      }
      onPress={() => step(by)}
      disabled={order.length === 0}
      style={styles.beside}
      testID={by === 1 ? 'cue-skip' : 'cue-back'}
    />
  )
  return (
    <View
      style={[styles.bar, narrow && !low && styles.narrow, low && styles.lowBar]}
      testID="go-bar"
      role="region"
      aria-label="Running order"
    >
      {low ? (
        <>
          {goKey}
          <Pressable
            onPress={() => next && onOpen?.(next.id)}
            disabled={!next || !onOpen}
            accessibilityRole="button"
            style={[styles.card, styles.lowCard, styles.next]}
            testID="next-cue"
          >
            <Words size={15} weight="bold" numberOfLines={1}>
              {next?.name ?? 'The order is through'}
            </Words>
            <Words size={12} tone={running.length > 0 ? 'sand' : 'mist'} numberOfLines={1}>
              {running.length > 0
                ? `▶ ${running.map(({ name }) => name).join(', ')}`
                : [show.held ? 'held' : 'next', next?.expected, late].filter(Boolean).join(' · ')}
            </Words>
          </Pressable>
          {holdKey}
          {stopKey}
        </>
      ) : narrow ? (
        <>
          <View style={styles.row}>
            {running.length > 0
              ? running
                  .slice(0, 1)
                  .map((run) => <Run key={run.id} run={run} desk={desk} held={show.held} onOpen={onOpen} />)
              : null}
            {running.length === 0 ? (
              <>
                {beside(-1)}
                {nextCard}
                {beside(1)}
              </>
            ) : null}
          </View>
          <View style={styles.row}>
            {goKey}
            {holdKey}
            {stopKey}
          </View>
        </>
      ) : (
        <>
          {goKey}
          {beside(-1)}
          {nextCard}
          {beside(1)}
          {running.slice(0, 2).map((run) => (
            <Run key={run.id} run={run} desk={desk} held={show.held} onOpen={onOpen} />
          ))}
          {running.length === 0 ? (
            <View style={styles.card} testID="last-cue">
              <Words size={13} tone="mist" numberOfLines={1}>
                {after ? ['then', after.expected].filter(Boolean).join(' · ') : 'then'}
              </Words>
              <Words size={15} weight="semiBold" numberOfLines={1}>
                {after?.name ?? 'nothing more'}
              </Words>
              <Words size={13} tone={ended && failedOf(ended) > 0 ? 'clay' : 'mist'} numberOfLines={1}>
                {endedWords(ended) ?? clockWords(desk, show.next)}
              </Words>
            </View>
          ) : null}
          {holdKey}
          {stopKey}
        </>
      )}
    </View>
  )
})

const failedOf = ({ steps }: RunNow) => steps.filter(({ state }) => state === 'failed').length

function endedWords(run: RunNow | undefined): string | null {
  if (!run) return null
  const failed = failedOf(run)
  if (failed > 0) return `△ ${run.name}: ${failed} ${failed === 1 ? 'step' : 'steps'} failed`
  return `${run.name} ${run.state === 'stopped' ? 'was stopped' : 'is done'}`
}

const clockWords = (desk: DeskView, next: { name: string; atMs: number } | null): string =>
  next ? `${clockText(next.atMs, desk.venue.timeZone)} ${next.name} by the clock` : ' '

interface RunProps {
  run: RunNow
  desk: DeskView
  held: boolean
  onOpen?: ((cue: string) => void) | undefined
}

function Run({ run, desk, held, onOpen }: RunProps) {
  const into = useInto(run, held)
  const done = run.steps.filter(({ state }) => state !== 'waiting' && state !== 'running').length
  const failed = failedOf(run)
  const out = run.out.map(({ camera }) => desk.cameras.find((c) => c.id === camera)?.name).filter(Boolean)
  const trouble = failed > 0 ? `△ ${failed} failed` : out.length > 0 ? `without ${out.join(', ')}` : ''
  return (
    <View style={styles.card} testID={`run-${run.cue}`}>
      <View style={styles.runHead}>
        <Words size={13} tone="mist" numberOfLines={1} style={styles.grow}>
          {held ? 'held' : `running, ${secondsText(into)}`}
        </Words>
        <Key label="Stop" onPress={() => stop(run.id)} style={styles.small} testID={`stop-${run.cue}`} />
      </View>
      <Pressable onPress={() => onOpen?.(run.cue)} disabled={!onOpen} accessibilityRole="button">
        <Words size={16} weight="bold" numberOfLines={1}>
          {run.name}
        </Words>
      </Pressable>
      <Words size={13} tone={trouble ? 'clay' : 'mist'} numberOfLines={1}>
        {trouble || `${done} of ${run.steps.length} steps`}
      </Words>
      <View style={styles.track}>
        <View style={[styles.done, { width: `${(100 * done) / Math.max(1, run.steps.length)}%` }]} />
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  bar: {
    flexDirection: 'row',
    gap: 8,
    padding: 8,
    borderTopWidth: 1,
    borderTopColor: TONES.line,
    backgroundColor: TONES.marsh,
  },
  narrow: { flexDirection: 'column' },
  row: { flexDirection: 'row', gap: 8 },
  go: { width: 150, minHeight: 72 },
  goNarrow: { flexGrow: 2, minHeight: 60 },
  goLow: { width: 96 },
  lowBar: { padding: 4, gap: 6 },
  lowCard: { paddingVertical: 4, justifyContent: 'center' },
  hold: { width: 84 },
  stop: { width: 150 },
  stopNarrow: { flexGrow: 1 },
  card: {
    flexGrow: 1,
    flexShrink: 1,
    flexBasis: 0,
    minWidth: 0,
    paddingHorizontal: 12,
    paddingVertical: 7,
    borderRadius: RADIUS.large,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.ink,
    overflow: 'hidden',
  },
  beside: {
    minWidth: TOUCH,
    paddingHorizontal: 0,
    borderColor: 'transparent',
    backgroundColor: 'transparent',
  },
  next: { borderColor: TONES.heron },
  runHead: { flexDirection: 'row', alignItems: 'center', gap: 6, height: 20 },
  grow: { flex: 1 },
  small: { minHeight: 44, minWidth: 56, marginTop: 22, marginRight: -6, paddingHorizontal: 8 },
  track: { position: 'absolute', left: 0, right: 0, bottom: 0, height: 4, backgroundColor: TONES.line },
  done: { height: 4, backgroundColor: TONES.heron },
})
