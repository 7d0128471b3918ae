/** What the audience sees, what it will see, and between them the one key that changes it. */
import { useState } from 'react'
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native'
import { PROGRAM_PICTURE } from '../../core/live/pictureFrame'
import type { CameraView, DeskView, PresetView } from '../../server/api'
import { Key } from '../basics/Key'
import { Notes } from '../basics/Notes'
import { Words } from '../basics/Words'
import { useFactValue } from '../live/useFactValue'
import { Thumb } from '../picture/Thumb'
import { order } from '../presets/actions'
import { LiveTile } from '../presets/PresetTile'
import { useStanding } from '../presets/useStanding'
import { PLACES_BESIDE } from '../theme/rooms'
import { RADIUS, TONES } from '../theme/tones'
import { AskBar } from './AskBar'
import { GuardControl } from './GuardSheet'
import { chooseNext, setNext, switchable, takeNext, useNext, useTallies } from './next'
import { useReady } from './useReady'

const PER_SEC = 15
const GAP = 8
const MOST_WIDE = 620
const TILE = 116
/** A window narrower than this has shorter words on its keys, px. */
const NARROW = 360

interface OnAirProps {
  desk: DeskView
  onDrive(camera: string): void
  onClose(): void
}

export function OnAirView({ desk, onDrive, onClose }: OnAirProps) {
  const size = useWindowDimensions()
  const tallies = useTallies(desk.cameras)
  const chosen = useNext()
  const [all, setAll] = useState(true)
  const stateIs = (state: string) => desk.cameras.find(({ id }) => tallies.get(id) === state) ?? null
  const onAir = stateIs('program')
  const next =
    desk.cameras.find(({ id }) => id === chosen?.camera && id !== onAir?.id) ?? stateIs('preview') ?? null
  const preset = desk.presets.find(({ id }) => id === chosen?.preset && chosen?.camera === next?.id) ?? null
  const { switcher } = desk.tally
  const able = switchable(desk.tally)
  const { low, beside, width } = roomFor(size.width, size.height)
  const program = switcher.enabled && switcher.pictureUrl ? PROGRAM_PICTURE : (onAir?.id ?? null)
  const of = (id: string) => desk.presets.filter(({ cameraId }) => cameraId === id)
  const shown = all ? desk.cameras.flatMap(({ id }) => of(id)) : of(next?.id ?? '')
  const narrow = size.width < NARROW
  const change = (
    <View style={styles.keys}>
      <Key
        label={next ? `Cut to ${next.number} ${next.name}` : 'Cut'}
        tone="filled"
        disabled={!next || !able.cut}
        onPress={() => next && void takeNext(next, false)}
        style={styles.cut}
        testID="cut"
      />
      <Key
        label={narrow ? 'Fade' : `Fade ${switcher.fadeSeconds} s`}
        disabled={!next || !able.fade}
        onPress={() => next && void takeNext(next, true)}
        style={styles.fade}
        testID="fade"
      />
    </View>
  )
  const foot = (
    <View style={styles.foot}>
      <Key
        label={narrow ? 'Hold' : 'Hold still'}
        onPress={() => {
          for (const { id, enabled } of desk.cameras) if (enabled) void order({ t: 'hold', camera: id })
        }}
        style={styles.third}
        testID="hold-still"
      />
      <Key
        label="Drive"
        onPress={() => {
          setNext(chosen)
          if (next) onDrive(next.id)
          onClose()
        }}
        style={styles.third}
        testID="on-air-drive"
      />
      <GuardControl desk={desk} />
    </View>
  )
  return (
    <View style={[styles.page, low && styles.low]} testID="on-air-view">
      <View style={[styles.top, low && { width: 2 * width + 40 }]}>
        <View style={[styles.pictures, beside ? styles.beside : styles.above]}>
          <Shot camera={program} width={width} tone="air">
            <Chip word="On air" tone="air">
              {onAir ? `${onAir.number} ${onAir.name}` : 'no camera of this desk'}
            </Chip>
            {onAir ? <StillChip camera={onAir.id} /> : null}
          </Shot>
          {beside ? null : change}
          <Shot camera={next?.id ?? null} width={width} tone="preview">
            <Chip word="Next" tone="preview">
              {next
                ? `${next.number} ${next.name}${preset ? ` · ${preset.name}` : ''}`
                : 'Choose a preset below'}
            </Chip>
            {next ? <ReadyLine camera={next} preset={preset} /> : null}
            <AskBar />
          </Shot>
        </View>
        {beside ? change : null}
        {able.cut ? null : (
          <Words size={14} tone="mist">
            Nothing can be cut from here. Describe the switcher, or set on air by hand, in Setup, Tally.
          </Words>
        )}
        {low ? foot : null}
      </View>
      <View style={styles.rest}>
        <View style={styles.keys}>
          <Key label="Next from all" on={all} onPress={() => setAll(true)} testID="next-all" />
          <Key
            label={next ? next.name : 'This camera'}
            on={!all}
            disabled={!next}
            onPress={() => setAll(false)}
            testID="next-own"
          />
        </View>
        <ScrollView style={styles.scroll} contentContainerStyle={styles.tiles}>
          {shown.map((one) => {
            const camera = desk.cameras.find(({ id }) => id === one.cameraId)
            return camera?.enabled ? (
              <LiveTile
                key={one.id}
                preset={one}
                camera={camera}
                foreign
                width={low ? TILE : tileFor(size.width - 20)}
                editing={false}
                dragging={false}
                onRecall={() => chooseNext(desk, one)}
                onEdit={() => {}}
              />
            ) : null
          })}
        </ScrollView>
      </View>
      <View style={styles.notes}>
        <Notes />
      </View>
      {low ? null : foot}
    </View>
  )
}
/** As many across as fit, and as wide as there is room. */
function tileFor(width: number): number {
  const across = Math.max(2, Math.floor((width + GAP) / (TILE + GAP)))
  return Math.floor((width - GAP * (across - 1)) / across)
}

/** Two pictures and the key that changes them, with room for the presets. */
function roomFor(width: number, height: number) {
  const low = height < 600 && width > height
  const beside = low || width >= 760
  const across = low ? (width - PLACES_BESIDE) * 0.29 : beside ? (width - 48) / 2 : width - 30
  const byHeight = (low ? height - 190 : (height - (beside ? 420 : 470)) / (beside ? 1 : 2)) * (16 / 9)
  return { low, beside, width: Math.round(Math.max(150, Math.min(across, byHeight, MOST_WIDE))) }
}

interface ShotProps {
  camera: string | null
  width: number
  tone: 'air' | 'preview'
  children: React.ReactNode
}

function Shot({ camera, width, tone, children }: ShotProps) {
  const height = Math.round((width * 9) / 16)
  return (
    <View style={[styles.shot, { width: width + 6, height: height + 6, borderColor: TONES[tone] }]}>
      {camera ? <Thumb key={camera} camera={camera} width={width} height={height} perSec={PER_SEC} /> : null}
      {children}
    </View>
  )
}

function Chip({
  word,
  tone,
  children,
}: {
  word: string
  tone: 'air' | 'preview'
  children: React.ReactNode
}) {
  return (
    <View style={styles.chip}>
      <View style={[styles.word, { backgroundColor: TONES[tone] }]}>
        <Words size={15} weight="bold" style={{ color: tone === 'air' ? '#FFFFFF' : TONES.ink }}>
          {word}
        </Words>
      </View>
      <Words size={15} weight="semiBold" numberOfLines={1} style={styles.shrink}>
        {children}
      </Words>
    </View>
  )
}

function StillChip({ camera }: { camera: string }) {
  const moving = useFactValue('pose', camera, (pose) => (pose ? pose.moving : null))
  if (moving === null) return null
  return (
    <View style={styles.foot2} testID="on-air-moving">
      <Words size={13} weight="semiBold" tone={moving ? 'clay' : 'sand'}>
        {moving ? 'moving' : 'still'}
      </Words>
    </View>
  )
}

function ReadyLine({ camera, preset }: { camera: CameraView; preset: PresetView | null }) {
  const { ready, words } = useReady(camera, preset)
  return (
    <View style={styles.foot2} testID={ready ? 'next-ready' : 'next-not-ready'}>
      <Words size={13}>
        <Words size={13} weight="bold">
          {ready ? 'ready' : 'not ready'}
        </Words>
        {words ? ` · ${words}` : ''}
      </Words>
      {preset ? <TravelLeft camera={camera} preset={preset} /> : null}
    </View>
  )
}

function TravelLeft({ camera, preset }: { camera: CameraView; preset: PresetView }) {
  const standing = useStanding(preset, camera)
  return standing.kind === 'travelling' ? (
    <Words size={13} weight="bold">{`${(standing.leftMs / 1000).toFixed(1)} s`}</Words>
  ) : null
}

const styles = StyleSheet.create({
  page: { flex: 1, minHeight: 0 },
  low: { flexDirection: 'row' },
  top: { padding: 10, gap: 8, alignItems: 'center' },
  rest: { flex: 1, minHeight: 0, minWidth: 0, paddingHorizontal: 10, gap: 8, paddingTop: 2 },
  scroll: { flex: 1 },
  notes: { position: 'relative' },
  pictures: { gap: GAP, alignItems: 'center' },
  beside: { flexDirection: 'row' },
  above: { alignSelf: 'stretch' },
  shot: { borderWidth: 3, borderRadius: RADIUS.small + 2, overflow: 'hidden', backgroundColor: '#060A0B' },
  chip: {
    position: 'absolute',
    left: 6,
    top: 6,
    right: 6,
    alignSelf: 'flex-start',
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    paddingRight: 8,
    borderRadius: RADIUS.small,
    backgroundColor: 'rgba(12,19,21,0.82)',
  },
  word: { paddingHorizontal: 8, paddingVertical: 2, borderRadius: RADIUS.small },
  shrink: { flexShrink: 1 },
  foot2: {
    position: 'absolute',
    left: 6,
    bottom: 6,
    flexDirection: 'row',
    gap: 8,
    paddingHorizontal: 8,
    paddingVertical: 2,
    borderRadius: RADIUS.small,
    backgroundColor: 'rgba(12,19,21,0.82)',
  },
  keys: { flexDirection: 'row', gap: GAP, width: '100%', maxWidth: 1250 },
  cut: { flex: 3, minHeight: 60 },
  fade: { flex: 1, minHeight: 60 },
  tiles: { flexDirection: 'row', flexWrap: 'wrap', gap: GAP, paddingBottom: 12 },
  foot: {
    alignSelf: 'stretch',
    flexDirection: 'row',
    gap: GAP,
    padding: 10,
    borderTopWidth: 1,
    borderTopColor: TONES.line,
  },
  third: { flex: 1 },
})
