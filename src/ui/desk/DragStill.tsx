/** The small still of the picture that hangs on the finger while it is dragged to store. */
import { type ClientRect, DragOverlay } from '@dnd-kit/core'
import { Image, StyleSheet, View } from 'react-native'
import { RADIUS, TONES } from '../theme/tones'

/** Above the finger, px, so that the tile below it can be seen. */
const ABOVE = 16
const SIZE = { width: 128, height: 72 }

/** Null if the canvas shows nothing. */
export function stillOf(canvas: HTMLCanvasElement | null): string | null {
  if (!canvas?.width) return null
  // Of a canvas that a worker draws only a copy can be read.
  const copy = document.createElement('canvas')
  copy.width = SIZE.width * 2
  copy.height = SIZE.height * 2
  try {
    copy.getContext('2d')?.drawImage(canvas, 0, 0, copy.width, copy.height)
    return copy.toDataURL('image/jpeg', 0.7)
  } catch {
    return null
  }
}

const pointerOf = (event: Event): { clientX: number; clientY: number } | null =>
  event instanceof MouseEvent ? event : event instanceof TouchEvent ? (event.touches[0] ?? null) : null

/** Hangs the still over the pointer, whatever point of the picture was taken. */
function aboveFinger(args: {
  transform: { x: number; y: number; scaleX: number; scaleY: number }
  activatorEvent: Event | null
  activeNodeRect: ClientRect | null
}) {
  const { transform, activatorEvent, activeNodeRect } = args
  const at = activatorEvent && pointerOf(activatorEvent)
  if (!at || !activeNodeRect) return transform
  return {
    ...transform,
    x: transform.x + at.clientX - activeNodeRect.left - SIZE.width / 2,
    y: transform.y + at.clientY - activeNodeRect.top - SIZE.height - ABOVE,
  }
}

export function DragStill({ dragging, still }: { dragging: boolean; still: string | null }) {
  return (
    <DragOverlay dropAnimation={null} modifiers={[aboveFinger]}>
      {dragging ? (
        <View style={styles.held}>
          {still ? <Image source={{ uri: still }} style={styles.picture} /> : null}
        </View>
      ) : null}
    </DragOverlay>
  )
}

const styles = StyleSheet.create({
  held: {
    ...SIZE,
    borderRadius: RADIUS.small,
    borderWidth: 2,
    borderColor: TONES.heron,
    overflow: 'hidden',
    backgroundColor: TONES.marsh,
    opacity: 0.92,
  },
  picture: { width: '100%', height: '100%' },
})
