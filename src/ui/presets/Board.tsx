/** The tiles: those of a camera in their sections, the pinned ones of all, or what a search finds. */
import ChevronDown from 'lucide-react-native/icons/chevron-down'
import ChevronRight from 'lucide-react-native/icons/chevron-right'
import Minus from 'lucide-react-native/icons/minus'
import Pencil from 'lucide-react-native/icons/pencil'
import Plus from 'lucide-react-native/icons/plus'
import Search from 'lucide-react-native/icons/search'
import { memo, useMemo, useState } from 'react'
import { FlatList, type LayoutChangeEvent, Pressable, StyleSheet, View } from 'react-native'
import { indexPresets, searchPresets, sectionsOf } from '../../core/presets/board'
import type { CameraView, DeskView, PresetView } from '../../server/api'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Notes } from '../basics/Notes'
import { Words } from '../basics/Words'
import { useMay } from '../people/me'
import { TONES, TOUCH } from '../theme/tones'
import { setAcross, toggleFold, useBoardState } from './boardState'
import { NewTile } from './NewTile'
import { PaceOnceKey } from './PaceOnce'
import { LiveTile } from './PresetTile'
import { RenewSheet } from './RenewSheet'
import { RoundLines } from './RoundLines'

const GAP = 8
const TITLE = TOUCH
/** A board narrower than this has icons for its keys, px. */
const NARROW = 320
/** Of a tile below its picture, px. */
const NAME = 24

export type BoardKind = 'camera' | 'pinned' | 'find'

interface BoardProps {
  desk: DeskView
  view: CameraView
  kind: BoardKind
  onKind(kind: BoardKind): void
  dragging: boolean
  onRecall(id: string): void
  onEdit(id: string): void
  onStore(): void
  /** The pace of the next recall is to be chosen. */
  onPace(): void
}

type Row =
  | { kind: 'title'; name: string; count: number; folded: boolean }
  | { kind: 'tiles'; presets: (PresetView | 'new')[] }

const inRows = (presets: readonly (PresetView | 'new')[], across: number): Row[] =>
  Array.from({ length: Math.ceil(presets.length / across) }, (_, i) => ({
    kind: 'tiles' as const,
    presets: presets.slice(i * across, (i + 1) * across),
  }))

export const Board = memo(function Board({
  desk,
  view,
  kind,
  onKind,
  dragging,
  onRecall,
  onEdit,
  onStore,
  onPace,
}: BoardProps) {
  const [width, setWidth] = useState(0)
  const [changing, setChanging] = useState(false)
  const [typed, setTyped] = useState('')
  const [renewing, setRenewing] = useState(false)
  const { across, folded } = useBoardState()
  const cameras = useMemo(() => new Map(desk.cameras.map((c) => [c.id, c])), [desk.cameras])
  const index = useMemo(
    () =>
      indexPresets(
        desk.presets,
        (p) => `${cameras.get(p.cameraId)?.number ?? ''} ${cameras.get(p.cameraId)?.name ?? ''}`,
      ),
    [desk.presets, cameras],
  )
  const own = useMemo(() => desk.presets.filter((p) => p.cameraId === view.id), [desk.presets, view.id])
  const pinned = useMemo(
    () => desk.presets.filter((p) => p.pinned !== null).sort((a, b) => a.pinned! - b.pinned!),
    [desk.presets],
  )
  const { best: found, total } = useMemo(
    () => searchPresets(index, kind === 'find' ? typed : ''),
    [kind, index, typed],
  )
  const rows = useMemo((): Row[] => {
    if (kind === 'pinned') return inRows(pinned, across)
    if (kind === 'find') return inRows(found, across)
    const sections = sectionsOf(own)
    const all = sections.flatMap(({ name, presets }): Row[] => {
      const shut = folded.includes(`${view.id} ${name}`)
      const title: Row[] = name === '' ? [] : [{ kind: 'title', name, count: presets.length, folded: shut }]
      return [...title, ...(shut ? [] : inRows(presets, across))]
    })
    // The empty tile stands after the last one, where there is room.
    const last = all[all.length - 1]
    if (last?.kind === 'tiles' && last.presets.length < across) last.presets.push('new')
    else all.push({ kind: 'tiles', presets: ['new'] })
    return all
  }, [kind, pinned, found, own, across, folded, view.id])
  const tile = Math.floor((width - GAP * (across - 1)) / across)
  const height = Math.round((tile * 9) / 16) + NAME + GAP
  const offsets = useMemo(() => {
    let at = 4
    return rows.map((row) => {
      const from = at
      at += row.kind === 'title' ? TITLE : height
      return from
    })
  }, [rows, height])
  const empty =
    kind === 'pinned'
      ? 'Nothing is pinned yet. Press Change, then a tile, and pin it: it stands here whichever camera is selected.'
      : kind === 'find'
        ? typed.trim() === ''
          ? 'Type a few letters, or a number. All cameras are searched.'
          : 'No preset is called so.'
        : 'No presets yet. Point the camera, then touch Store, or drag the picture onto the tile below.'
  const mayStore = useMay('store')
  const narrow = width > 0 && width < NARROW
  const count = kind === 'camera' ? own.length : kind === 'pinned' ? pinned.length : found.length
  return (
    <View style={styles.board}>
      <View style={[styles.head, narrow && styles.tight]}>
        <Key
          label={view.name}
          on={kind === 'camera'}
          onPress={() => onKind('camera')}
          style={styles.tab}
          testID="board-camera"
        />
        <Key
          label="Pinned"
          on={kind === 'pinned'}
          onPress={() => onKind('pinned')}
          style={styles.tab}
          testID="board-pinned"
        />
        <Key
          label={narrow ? '' : 'Find'}
          accessibilityLabel={narrow ? 'Find' : undefined}
          icon={narrow ? <Search size={20} color={TONES.sand} /> : undefined}
          on={kind === 'find'}
          onPress={() => onKind('find')}
          style={narrow ? styles.icon : styles.tab}
          testID="board-find"
        />
        {mayStore ? (
          <Key
            label={narrow ? '' : changing ? 'Done' : 'Change'}
            accessibilityLabel={narrow ? (changing ? 'Done' : 'Change') : undefined}
            icon={narrow ? <Pencil size={20} color={TONES.sand} /> : undefined}
            on={changing}
            disabled={count === 0 && !changing}
            onPress={() => setChanging(!changing)}
            style={narrow ? styles.icon : styles.tab}
            testID="change-presets"
          />
        ) : null}
        <PaceOnceKey onPress={onPace} />
      </View>
      <RoundLines cameras={desk.cameras} />
      {changing ? (
        <View style={styles.tools}>
          <Words size={14} tone="mist" style={styles.count}>
            {count === 1 ? '1 preset' : `${count} presets`}
          </Words>
          {kind === 'camera' ? (
            <Key label="Retake all pictures" onPress={() => setRenewing(true)} testID="renew-pictures" />
          ) : null}
          <Key
            label=""
            accessibilityLabel="Larger tiles"
            tone="quiet"
            icon={<Plus size={18} color={TONES.mist} />}
            disabled={across <= 2}
            onPress={() => setAcross(across - 1)}
            testID="tiles-larger"
          />
          <Key
            label=""
            accessibilityLabel="Smaller tiles"
            tone="quiet"
            icon={<Minus size={18} color={TONES.mist} />}
            disabled={across >= 6}
            onPress={() => setAcross(across + 1)}
            testID="tiles-smaller"
          />
        </View>
      ) : null}
      {kind === 'find' ? (
        <View style={styles.find}>
          <Field
            label="Find a preset; Enter recalls the first"
            value={typed}
            autoFocus
            onChangeText={setTyped}
            onKeyPress={({ nativeEvent }) => nativeEvent.key === 'Escape' && onKind('camera')}
            onSubmitEditing={() => found[0] && onRecall(found[0].id)}
            testID="find-preset"
          />
        </View>
      ) : null}
      <FlatList
        style={styles.scroll}
        onLayout={(e: LayoutChangeEvent) => setWidth(e.nativeEvent.layout.width)}
        data={width > 0 ? rows : []}
        keyExtractor={(row, i) => (row.kind === 'title' ? `title ${row.name}` : `row ${i}`)}
        getItemLayout={(_, i) => ({
          length: rows[i]?.kind === 'title' ? TITLE : height,
          offset: offsets[i] ?? 0,
          index: i,
        })}
        extraData={[dragging, changing, tile]}
        initialNumToRender={5}
        maxToRenderPerBatch={6}
        windowSize={5}
        contentContainerStyle={styles.content}
        ListHeaderComponent={
          count === 0 ? (
            <Words size={15} tone="mist" style={styles.empty}>
              {empty}
            </Words>
          ) : null
        }
        ListFooterComponent={
          total > found.length ? (
            <Words size={14} tone="mist" style={styles.empty} testID="more-found">
              {`The best ${found.length} of ${total}. Type more letters to see others.`}
            </Words>
          ) : null
        }
        testID="board"
        // With no tile in it the keyboard could not scroll it.
        {...({ tabIndex: count === 0 ? 0 : -1 } as object)}
        renderItem={({ item: row }) =>
          row.kind === 'title' ? (
            <Pressable
              onPress={() => toggleFold(`${view.id} ${row.name}`)}
              accessibilityRole="button"
              aria-expanded={!row.folded}
              style={styles.title}
              testID={`section-${row.name}`}
            >
              {row.folded ? (
                <ChevronRight size={18} color={TONES.mist} />
              ) : (
                <ChevronDown size={18} color={TONES.mist} />
              )}
              <Words size={15} weight="bold">
                {row.name}
              </Words>
              <Words size={13} tone="mist">
                {row.count}
              </Words>
            </Pressable>
          ) : (
            <View style={[styles.row, { height }]}>
              {row.presets.map((preset) =>
                preset === 'new' ? (
                  <NewTile key="new" width={tile} dragging={dragging} onPress={onStore} />
                ) : (
                  <LiveTile
                    key={preset.id}
                    preset={preset}
                    camera={cameras.get(preset.cameraId) ?? view}
                    foreign={kind !== 'camera'}
                    width={tile}
                    editing={changing}
                    dragging={dragging}
                    onRecall={onRecall}
                    onEdit={onEdit}
                  />
                ),
              )}
            </View>
          )
        }
      />
      <Notes />
      {renewing ? <RenewSheet view={view} presets={own} onClose={() => setRenewing(false)} /> : null}
    </View>
  )
})

const styles = StyleSheet.create({
  board: { flex: 1, minHeight: 0 },
  head: { flexDirection: 'row', gap: 6, paddingHorizontal: 12, paddingTop: 4, paddingBottom: 6 },
  tight: { gap: 4, paddingHorizontal: 6 },
  tab: { flexGrow: 1, flexShrink: 1, paddingHorizontal: 6 },
  icon: { paddingHorizontal: 0, flexGrow: 0 },
  tools: { flexDirection: 'row', alignItems: 'center', gap: 4, paddingHorizontal: 12 },
  count: { flex: 1 },
  find: { paddingHorizontal: 12, paddingBottom: 6 },
  scroll: { flex: 1, marginHorizontal: 12 },
  content: { paddingTop: 4, paddingBottom: 16 },
  title: { flexDirection: 'row', alignItems: 'center', gap: 6, height: TITLE },
  row: { flexDirection: 'row', gap: GAP },
  empty: { paddingVertical: 12 },
})
