/** Where a block of the Desk stands. While the Desk is arranged a shade lies over it, by which it is moved. */
import { useDraggable, useDroppable } from '@dnd-kit/core'
import EyeOff from 'lucide-react-native/icons/eye-off'
import Minus from 'lucide-react-native/icons/minus'
import Move from 'lucide-react-native/icons/move'
import Plus from 'lucide-react-native/icons/plus'
import type { ReactNode } from 'react'
import { Pressable, type StyleProp, StyleSheet, View, type ViewStyle } from 'react-native'
import {
  type Block,
  LEAST_SIZE,
  MOST_SIZE,
  movable,
  shown,
  sizeable,
  sized,
  stepped,
} from '../../core/controls/placement'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { useFocusRing } from '../input/useFocusRing'
import { RADIUS, TONES, TOUCH } from '../theme/tones'
import { web } from '../theme/web'
import { type Placing, usePlacing } from './placing'

export const BLOCK_WORDS: Record<Block, string> = {
  cameras: 'Cameras',
  picture: 'Picture',
  tools: 'Tools',
  presets: 'Presets',
  zoom: 'Zoom',
  deck: 'Drive',
  switch: 'Preview and Cut',
  order: 'Running order',
}

/** Begins the names of what is dragged and dropped on here. */
export const SLOT = 'block:'
export const EDGE = 'edge:'
/** px */
export const EDGE_WIDTH = 28
const SIZE_STEP = 0.1

interface SlotProps {
  block: Block
  style?: StyleProp<ViewStyle>
  children: ReactNode
}

export function Slot({ block, style, children }: SlotProps) {
  const placing = usePlacing()
  return (
    <View style={style}>
      {children}
      {placing?.open ? <Shade block={block} placing={placing} /> : null}
    </View>
  )
}

function Shade({ block, placing }: { block: Block; placing: Placing }) {
  const { shape, placement, change } = placing
  const id = `${SLOT}${block}`
  const moves = movable(shape, block)
  const drag = useDraggable({ id, disabled: !moves })
  const drop = useDroppable({ id, disabled: !moves })
  const { ring, handlers } = useFocusRing()
  const size = placement.size[block] ?? 1
  const onKeyDown = (event: { key: string; preventDefault(): void; stopPropagation(): void }) => {
    const by = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[event.key]
    if (!by) return
    event.preventDefault()
    event.stopPropagation()
    change(stepped(shape, placement, block, by as 1 | -1))
  }
  return (
    <View
      ref={drop.setNodeRef as never}
      style={[styles.shade, drop.isOver && styles.over, drag.isDragging && styles.taken]}
      testID={`arrange-${block}`}
    >
      {moves ? (
        <View
          ref={drag.setNodeRef as never}
          style={[StyleSheet.absoluteFill, web({ touchAction: 'none', cursor: 'grab' })]}
          {...(drag.listeners as object)}
        >
          <Pressable
            accessibilityRole="button"
            accessibilityLabel={`Move ${BLOCK_WORDS[block]} with the arrow keys`}
            {...({ onKeyDown } as object)}
            {...handlers}
            style={[StyleSheet.absoluteFill, ring && styles.focused]}
            testID={`arrange-move-${block}`}
          />
        </View>
      ) : null}
      <View style={styles.bar}>
        <View style={styles.name}>
          {moves ? <Move size={16} color={TONES.mist} /> : null}
          <Words weight="semiBold" size={15} numberOfLines={1}>
            {BLOCK_WORDS[block]}
          </Words>
        </View>
        {sizeable(shape, block) ? (
          <>
            <Key
              label=""
              accessibilityLabel={`${BLOCK_WORDS[block]} smaller`}
              icon={<Minus size={18} color={TONES.sand} />}
              disabled={size <= LEAST_SIZE}
              onPress={() => change(sized(placement, block, -SIZE_STEP))}
              style={styles.key}
              testID={`arrange-smaller-${block}`}
            />
            <Key
              label=""
              accessibilityLabel={`${BLOCK_WORDS[block]} larger`}
              icon={<Plus size={18} color={TONES.sand} />}
              disabled={size >= MOST_SIZE}
              onPress={() => change(sized(placement, block, SIZE_STEP))}
              style={styles.key}
              testID={`arrange-larger-${block}`}
            />
          </>
        ) : null}
        <Key
          label=""
          accessibilityLabel={`Hide ${BLOCK_WORDS[block]}`}
          icon={<EyeOff size={18} color={TONES.sand} />}
          onPress={() => change(shown(placement, block, false))}
          style={styles.key}
          testID={`arrange-hide-${block}`}
        />
      </View>
    </View>
  )
}

/** At the left and right edge of a wide window: dropped there, a block has a column of its own. */
export function Edge({ side }: { side: 'left' | 'right' }) {
  const drop = useDroppable({ id: `${EDGE}${side}` })
  return (
    <View
      ref={drop.setNodeRef as never}
      style={[styles.edge, drop.isOver && styles.over]}
      testID={`arrange-edge-${side}`}
    />
  )
}

const styles = StyleSheet.create({
  shade: {
    ...StyleSheet.absoluteFill,
    zIndex: 6,
    overflow: 'hidden',
    alignItems: 'center',
    justifyContent: 'center',
    backgroundColor: `${TONES.ink}C8`,
    borderWidth: 1,
    borderStyle: 'dashed',
    borderColor: TONES.heron,
    borderRadius: RADIUS.large,
  },
  over: { backgroundColor: `${TONES.heronFilled}E0`, borderColor: TONES.sand, borderStyle: 'solid' },
  taken: { opacity: 0.5 },
  focused: { outlineColor: TONES.sand, outlineWidth: 2, outlineStyle: 'solid', outlineOffset: -4 },
  bar: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    justifyContent: 'center',
    gap: 4,
    pointerEvents: 'box-none',
  },
  name: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 6,
    minHeight: TOUCH,
    paddingHorizontal: 6,
    pointerEvents: 'none',
  },
  key: { paddingHorizontal: 0 },
  edge: {
    width: EDGE_WIDTH,
    borderWidth: 1,
    borderStyle: 'dashed',
    borderColor: TONES.heron,
    backgroundColor: TONES.marsh,
  },
})
