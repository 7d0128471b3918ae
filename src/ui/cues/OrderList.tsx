/** The running order: each cue with its time, its notes, what is wrong with it, and its place. */
import ArrowDown from 'lucide-react-native/icons/arrow-down'
import ArrowUp from 'lucide-react-native/icons/arrow-up'
import { Pressable, StyleSheet, View } from 'react-native'
import type { Finding } from '../../core/cues/check'
import { listed, nextOf } from '../../core/cues/order'
import type { CueView } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import { orderParts } from '../api/client'
import { Key } from '../basics/Key'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'
import { choose } from './runActions'
import { useShow } from './useShow'

interface OrderListProps {
  desk: DeskView
  findings: readonly Finding[]
  open: string | null
  /** With keys to move them. */
  moving: boolean
  onOpen(cue: string): void
}

export function OrderList({ desk, findings, open, moving, onOpen }: OrderListProps) {
  const show = useShow()
  const { cues } = desk.show
  const order = listed(cues)
  const others = cues.filter((cue) => !cue.listed)
  const next = nextOf(cues, show.position)
  const move = (at: number, by: 1 | -1) => {
    const ids = order.map(({ id }) => id)
    const [one] = ids.splice(at, 1)
    ids.splice(at + by, 0, one!)
    void told(() => orderParts('cue', ids))
  }
  const card = (cue: CueView, at: number | null) => {
    const wrong = findings.filter((one) => one.cue === cue.id).length
    const runs = show.runs.some((run) => run.cue === cue.id && run.state === 'running')
    const isNext = cue.id === next?.id
    return (
      <View key={cue.id} style={[styles.card, open === cue.id && styles.open, isNext && styles.next]}>
        <Pressable
          onPress={() => onOpen(cue.id)}
          accessibilityRole="button"
          style={styles.body}
          testID={`cue-${cue.name}`}
        >
          <View style={styles.line}>
            <Words size={13} tone="mist">
              {[at === null ? null : at + 1, cue.expected].filter((x) => x !== null).join(' · ')}
            </Words>
            <Words size={13} weight="bold" tone={runs ? 'sand' : 'heron'}>
              {runs ? '▶ running' : isNext ? 'next' : ''}
            </Words>
          </View>
          <Words size={16} weight="semiBold" numberOfLines={1}>
            {cue.name}
          </Words>
          <Words size={13} tone={wrong > 0 ? 'clay' : 'mist'} numberOfLines={1}>
            {wrong > 0
              ? `△ ${wrong} ${wrong === 1 ? 'finding' : 'findings'}`
              : cue.notes || `${cue.steps.length} ${cue.steps.length === 1 ? 'step' : 'steps'}`}
          </Words>
        </Pressable>
        {moving && at !== null ? (
          <View style={styles.keys}>
            <Key
              label=""
              accessibilityLabel={`Move ${cue.name} up`}
              tone="quiet"
              icon={<ArrowUp size={18} color={TONES.mist} />}
              disabled={at === 0}
              onPress={() => move(at, -1)}
            />
            <Key
              label=""
              accessibilityLabel={`Move ${cue.name} down`}
              tone="quiet"
              icon={<ArrowDown size={18} color={TONES.mist} />}
              disabled={at === order.length - 1}
              onPress={() => move(at, 1)}
            />
          </View>
        ) : !isNext && at !== null ? (
          <Key
            label="Next"
            accessibilityLabel={`Next: ${cue.name}`}
            tone="quiet"
            onPress={() => choose(cue.id)}
            testID={`choose-${cue.name}`}
          />
        ) : null}
      </View>
    )
  }
  return (
    <View style={styles.list} testID="order-list">
      {order.map(card)}
      {others.length > 0 ? (
        <Words size={13} tone="mist" style={styles.heading}>
          Not in the order: started by others
        </Words>
      ) : null}
      {others.map((cue) => card(cue, null))}
    </View>
  )
}

const styles = StyleSheet.create({
  list: { gap: 6 },
  card: {
    flexDirection: 'row',
    alignItems: 'center',
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.marsh,
  },
  open: { backgroundColor: TONES.heronFilled },
  next: { borderColor: TONES.heron },
  body: { flex: 1, minWidth: 0, paddingHorizontal: 12, paddingVertical: 8, gap: 1 },
  line: { flexDirection: 'row', justifyContent: 'space-between', minHeight: 18 },
  keys: { flexDirection: 'row' },
  heading: { paddingTop: 10 },
})
