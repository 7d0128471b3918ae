/** A preset's tile: its picture, number and name, and the truth about its camera. */

import { useDraggable, useDroppable } from '@dnd-kit/core'
import TriangleAlert from 'lucide-react-native/icons/triangle-alert'
import { memo, useMemo } from 'react'
import { Image, Pressable, StyleSheet, View } from 'react-native'
import { paceText } from '../../core/presets/pace'
import type { Standing } from '../../core/presets/standing'
import type { CameraView, PresetView } from '../../server/api'
import { pictureUrl } from '../api/client'
import { useDescription } from '../basics/useDescription'
import { Words } from '../basics/Words'
import { useFocusRing } from '../input/useFocusRing'
import { useTap } from '../input/useTap'
import { useMay } from '../people/me'
import { TallyMark } from '../tally/TallyMark'
import { SPOKEN, useTally } from '../tally/useTally'
import { RADIUS, TONES } from '../theme/tones'
import { web } from '../theme/web'
import { standingWords } from './standingWords'
import { useStanding } from './useStanding'

interface TileProps {
  preset: PresetView
  camera: CameraView
  /** It may belong to another camera than the selected one, so that its number is told. */
  foreign: boolean
  width: number
  editing: boolean
  dragging: boolean
  onRecall(id: string): void
  onEdit(id: string): void
}

/** The id under which a tile is dragged to another place. */
export const MOVED = 'move:'

/** A tile that follows its camera. */
export const LiveTile = memo(function LiveTile(props: TileProps) {
  const now = useStanding(props.preset, props.camera)
  const key = JSON.stringify(now)
  // The same object as long as it says the same.
  const standing = useMemo(() => JSON.parse(key) as Standing, [key])
  return <PresetTile {...props} standing={standing} />
})

const PresetTile = memo(function PresetTile({
  preset,
  camera,
  foreign,
  standing,
  width,
  editing,
  dragging,
  onRecall,
  onEdit,
}: TileProps & { standing: Standing }) {
  const { setNodeRef, isOver } = useDroppable({ id: preset.id })
  const { setNodeRef: setMovedRef, listeners } = useDraggable({
    id: `${MOVED}${preset.id}`,
    disabled: !editing,
  })
  const { ring, handlers } = useFocusRing()
  const { described, description } = useDescription(
    `${editing ? 'Changes this preset' : 'Recalls this preset'}${SPOKEN[useTally(camera.id)]}`,
  )
  const recall = () => onRecall(preset.id)
  const mayStore = useMay('store')
  const tap = useTap(editing ? null : recall, editing ? () => onEdit(preset.id) : recall)
  const height = Math.round((width * 9) / 16)
  const state = standingWords(standing)
  const kept = [preset.memory === null ? '' : `M${preset.memory}`, paceText(preset.pace ?? camera.pace)]
  const corner = kept.filter(Boolean).join('  ')
  // Short words stand beside the name; longer ones need the picture's width.
  const beside = standing.kind === 'here' || standing.kind === 'travelling'
  return (
    <Pressable
      ref={(node) => {
        setNodeRef(node as unknown as HTMLElement)
        setMovedRef(node as unknown as HTMLElement)
      }}
      testID={foreign ? `tile-${camera.number}-${preset.number}` : `tile-${preset.number}`}
      accessibilityRole="button"
      {...described}
      {...tap}
      onLongPress={editing || !mayStore ? undefined : () => onEdit(preset.id)}
      delayLongPress={550}
      {...((editing ? listeners : {}) as object)}
      {...handlers}
      style={[
        styles.tile,
        { width },
        web({ userSelect: 'none', outlineStyle: 'none', touchAction: editing ? 'none' : 'manipulation' }),
      ]}
    >
      <View
        style={[
          styles.frame,
          { width, height },
          standing.kind === 'here' && styles.here,
          standing.kind === 'travelling' && styles.travelling,
          standing.kind === 'failed' && styles.failed,
          dragging && styles.target,
          isOver && styles.over,
          ring && styles.focused,
        ]}
      >
        {preset.surveyed ? (
          <View style={styles.surveyed}>
            <Words size={11} weight="semiBold" tone="mist" testID={`surveyed-${preset.number}`}>
              survey
            </Words>
          </View>
        ) : null}
        {preset.pictureId ? (
          <Image
            source={{ uri: pictureUrl(preset.pictureId) }}
            style={styles.picture}
            resizeMode="cover"
            accessible={false}
          />
        ) : (
          <View style={styles.noPicture}>
            <Words size={12} tone="mist">
              no picture
            </Words>
          </View>
        )}
        <View style={styles.number}>
          <Words size={14} weight="bold" numberOfLines={1}>
            {foreign ? `${camera.number} · ${preset.number}` : preset.number}
          </Words>
          <TallyMark camera={camera.id} size={12} />
        </View>
        {preset.mark ? (
          <View style={styles.own}>
            <Words size={15} weight="bold">
              {preset.mark}
            </Words>
          </View>
        ) : null}
        {corner ? (
          <View style={styles.pace}>
            <Words size={12}>{corner}</Words>
          </View>
        ) : null}
        {standing.kind === 'travelling' && standing.eased ? (
          <View style={styles.mark} testID="eased">
            <Words size={12}>eased, on air</Words>
          </View>
        ) : null}
        {state && !beside ? (
          <View style={styles.mark}>
            {standing.kind === 'failed' ? <TriangleAlert size={13} color={TONES.clay} /> : null}
            <Words size={12} tone={standing.kind === 'failed' ? 'clay' : 'sand'} testID="standing">
              {state}
            </Words>
          </View>
        ) : null}
        {standing.kind === 'travelling' ? (
          <View style={[styles.progress, { width: Math.max(4, width * standing.share) }]} />
        ) : null}
        {isOver || editing ? (
          <View style={styles.veil}>
            <Words size={14} weight="bold">
              {isOver ? (editing ? 'To here' : 'Store over') : 'Change'}
            </Words>
          </View>
        ) : null}
      </View>
      <Words size={14} numberOfLines={1}>
        {preset.name}
        {beside ? (
          <Words size={13} tone="mist" testID="standing">
            {`  ${state}`}
          </Words>
        ) : null}
      </Words>
      {description}
    </Pressable>
  )
})

const styles = StyleSheet.create({
  tile: { gap: 3 },
  frame: {
    borderRadius: RADIUS.small,
    overflow: 'hidden',
    backgroundColor: TONES.marsh,
    borderWidth: 2,
    borderColor: TONES.marsh,
  },
  here: { borderColor: TONES.sand },
  travelling: { borderColor: TONES.heron },
  failed: { borderColor: TONES.clay, borderStyle: 'dashed' },
  target: { borderColor: TONES.line, borderStyle: 'dashed' },
  over: { borderColor: TONES.heron, borderStyle: 'solid' },
  focused: { outlineColor: TONES.heron, outlineWidth: 2, outlineStyle: 'solid', outlineOffset: 2 },
  picture: { width: '100%', height: '100%' },
  surveyed: {
    ...{ position: 'absolute', right: 4, top: 4, zIndex: 2, paddingHorizontal: 4 },
    ...{ borderRadius: RADIUS.small, backgroundColor: `${TONES.ink}D0` },
  },
  noPicture: { flex: 1, alignItems: 'center', justifyContent: 'center' },
  number: {
    position: 'absolute',
    left: 0,
    bottom: 0,
    minWidth: 24,
    paddingLeft: 5,
    paddingRight: 5,
    flexDirection: 'row',
    justifyContent: 'center',
    gap: 5,
    alignItems: 'center',
    backgroundColor: 'rgba(12,19,21,0.85)',
    borderTopRightRadius: RADIUS.small,
  },
  mark: {
    position: 'absolute',
    right: 0,
    top: 0,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 4,
    paddingHorizontal: 6,
    paddingVertical: 1,
    backgroundColor: 'rgba(12,19,21,0.88)',
    borderBottomLeftRadius: RADIUS.small,
  },
  own: {
    position: 'absolute',
    left: 0,
    top: 0,
    minWidth: 24,
    alignItems: 'center',
    backgroundColor: 'rgba(12,19,21,0.85)',
    borderBottomRightRadius: RADIUS.small,
  },
  pace: {
    position: 'absolute',
    right: 0,
    bottom: 0,
    paddingHorizontal: 5,
    backgroundColor: 'rgba(12,19,21,0.85)',
    borderTopLeftRadius: RADIUS.small,
  },
  progress: { position: 'absolute', left: 0, bottom: 0, height: 5, backgroundColor: TONES.heron },
  veil: {
    ...StyleSheet.absoluteFill,
    alignItems: 'center',
    justifyContent: 'center',
    backgroundColor: 'rgba(36,65,79,0.72)',
  },
})
