/** A camera in Setup's list; its handle drags it to another place. */
import { useSortable } from '@dnd-kit/sortable'
import ExternalLink from 'lucide-react-native/icons/external-link'
import GripVertical from 'lucide-react-native/icons/grip-vertical'
import TriangleAlert from 'lucide-react-native/icons/triangle-alert'
import { Linking, Pressable, StyleSheet, View } from 'react-native'
import { addressText, kindWords } from '../../core/cameras/connection'
import type { CameraView } from '../../server/api'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { healthWords, isWell } from '../desk/healthWords'
import { useFact } from '../live/hooks'
import { RADIUS, TONES, TOUCH } from '../theme/tones'
import { web } from '../theme/web'

interface CameraRowProps {
  view: CameraView
  onEdit(): void
  onToggle(): void
}

export function CameraRow({ view, onEdit, onToggle }: CameraRowProps) {
  const health = useFact('health', view.id)
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id: view.id,
  })
  const words = healthWords(health, view.enabled)
  const well = isWell(health, view.enabled)
  const style = { transform: transform ? `translate3d(0, ${transform.y}px, 0)` : undefined, transition }
  return (
    <div ref={setNodeRef} style={{ ...style, position: 'relative', zIndex: isDragging ? 2 : 0 }}>
      <View style={[styles.row, isDragging && styles.dragged]} testID={`row-${view.number}`}>
        <View
          {...(attributes as object)}
          {...(listeners as object)}
          style={[styles.handle, web({ touchAction: 'none', cursor: 'grab' })]}
          accessibilityLabel={`Move ${view.name}`}
          testID={`handle-${view.number}`}
        >
          <GripVertical size={20} color={TONES.mist} />
        </View>
        <Pressable
          style={styles.main}
          onPress={onEdit}
          accessibilityRole="button"
          testID={`edit-${view.number}`}
        >
          <Words size={20} weight="bold" style={styles.number}>
            {view.number}
          </Words>
          <View style={styles.words}>
            <View style={styles.line}>
              <Words size={16} weight="semiBold" numberOfLines={1} style={styles.name}>
                {view.name}
              </Words>
              {well && view.warnings.length === 0 ? null : <TriangleAlert size={16} color={TONES.clay} />}
              <Words size={13} tone={well ? 'mist' : 'clay'} testID={`row-health-${view.number}`}>
                {words}
              </Words>
            </View>
            <Words size={13} tone="mist" numberOfLines={1}>
              {`${kindWords(view.connection)}, ${addressText(view.connection)}`}
            </Words>
          </View>
        </Pressable>
        {view.pageUrl ? (
          <Key
            label=""
            accessibilityLabel={`Open ${view.name}'s own page`}
            tone="quiet"
            icon={<ExternalLink size={18} color={TONES.mist} />}
            onPress={() => void Linking.openURL(view.pageUrl!)}
            testID={`page-${view.number}`}
          />
        ) : null}
        <Key
          label={view.enabled ? 'On' : 'Off'}
          description={`${view.name} in the desk`}
          on={view.enabled}
          onPress={onToggle}
          testID={`toggle-${view.number}`}
        />
      </View>
    </div>
  )
}

const styles = StyleSheet.create({
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 4,
    minHeight: 62,
    paddingRight: 8,
    borderRadius: RADIUS.middle,
    backgroundColor: TONES.marsh,
    borderWidth: 1,
    borderColor: TONES.line,
  },
  dragged: { borderColor: TONES.heron, backgroundColor: TONES.reed },
  handle: { width: TOUCH, height: 60, alignItems: 'center', justifyContent: 'center' },
  main: { flex: 1, flexDirection: 'row', alignItems: 'center', gap: 12, minHeight: 60, minWidth: 0 },
  number: { minWidth: 26 },
  words: { flex: 1, minWidth: 0 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 6, paddingRight: 6 },
  name: { flex: 1 },
})
