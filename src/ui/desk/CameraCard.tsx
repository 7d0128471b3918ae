/** A camera in the rail or the strip: its picture, number, name, and how its link is. */

import TriangleAlert from 'lucide-react-native/icons/triangle-alert'
import { memo } from 'react'
import { Pressable, StyleSheet, View } from 'react-native'
import type { CameraView } from '../../server/api'
import { useDescription } from '../basics/useDescription'
import { Words } from '../basics/Words'
import { useFocusRing } from '../input/useFocusRing'
import { useFact } from '../live/hooks'
import { Thumb } from '../picture/Thumb'
import { TallyFrame, TallyMark } from '../tally/TallyMark'
import { SPOKEN, useTally } from '../tally/useTally'
import { RADIUS, TONES, TOUCH } from '../theme/tones'
import { healthWords, isWell } from './healthWords'

interface CameraCardProps {
  view: CameraView
  /** The Desk works with it; or it is driven along with that one. */
  chosen: 'primary' | 'also' | null
  onPress(id: string, add: boolean): void
  /** Its number alone. */
  compact?: boolean
}

function useCard({ view, chosen, onPress }: CameraCardProps) {
  const health = useFact('health', view.id)
  const { ring, handlers } = useFocusRing()
  const words = healthWords(health, view.enabled)
  const driven = chosen === 'also' ? ', driven along' : ''
  const tally = useTally(view.id)
  const { described, description } = useDescription(`Camera ${view.name}, ${words}${SPOKEN[tally]}${driven}`)
  const props = {
    ...handlers,
    accessibilityRole: 'button' as const,
    ...described,
    'aria-pressed': chosen !== null,
    onPress: (event: { nativeEvent: unknown }) =>
      onPress(view.id, !!(event.nativeEvent as { shiftKey?: boolean }).shiftKey),
  }
  return { words, description, tally, well: isWell(health, view.enabled), ring, props }
}

const RAIL_PICTURE = { width: 80, height: 45 }
export const RAIL_CARD = 66

export const RailCard = memo(function RailCard(props: CameraCardProps) {
  const { view, chosen } = props
  const card = useCard(props)
  return (
    <Pressable
      {...card.props}
      testID={`camera-${view.number}`}
      style={[
        styles.card,
        chosen && styles[chosen],
        card.ring && styles.focused,
        !view.enabled && styles.off,
      ]}
    >
      <View>
        {view.enabled ? (
          <Thumb camera={view.id} {...RAIL_PICTURE} />
        ) : (
          <View style={[styles.none, RAIL_PICTURE]} />
        )}
        <TallyFrame camera={view.id} thick={3} />
      </View>
      <View style={styles.words}>
        <View style={styles.first}>
          <Words size={15} weight="bold" style={styles.tight}>
            {view.number}
          </Words>
          <TallyMark camera={view.id} size={13} />
        </View>
        <Words size={14} weight="semiBold" numberOfLines={1} style={styles.tight}>
          {view.name}
        </Words>
        <Words size={12} tone={card.well ? 'mist' : 'clay'} numberOfLines={1} testID="health">
          {chosen === 'also' ? `driven · ${card.words}` : card.words}
        </Words>
      </View>
      {card.description}
    </Pressable>
  )
})

const STRIP_PICTURE = { width: 64, height: 36 }
export const STRIP_CARD = 74
export const CHIP = 60

export const StripCard = memo(function StripCard(props: CameraCardProps) {
  const { view, chosen } = props
  const card = useCard(props)
  return (
    <Pressable
      {...card.props}
      testID={`camera-${view.number}`}
      style={[
        styles.small,
        props.compact && styles.chip,
        chosen && styles[chosen],
        card.ring && styles.focused,
        !view.enabled && styles.off,
      ]}
    >
      {props.compact ? null : (
        <View>
          {view.enabled ? (
            <Thumb camera={view.id} {...STRIP_PICTURE} perSec={2} />
          ) : (
            <View style={[styles.none, STRIP_PICTURE]} />
          )}
          <TallyFrame camera={view.id} thick={3} />
          <View style={styles.over}>
            <TallyMark camera={view.id} size={12} bar />
          </View>
        </View>
      )}
      {props.compact ? <TallyMark camera={view.id} size={11} bar /> : null}
      <View style={styles.below}>
        {card.well ? null : <TriangleAlert size={12} color={TONES.clay} />}
        <Words size={13} weight="bold" tone={card.well ? 'sand' : 'clay'} numberOfLines={1}>
          {view.enabled ? view.number : `${view.number} off`}
        </Words>
      </View>
      {card.description}
    </Pressable>
  )
})

const styles = StyleSheet.create({
  card: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 10,
    height: RAIL_CARD - 6,
    marginBottom: 6,
    paddingHorizontal: 6,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: 'transparent',
  },
  small: {
    width: STRIP_CARD - 4,
    marginRight: 4,
    alignItems: 'center',
    paddingTop: 3,
    borderRadius: RADIUS.small + 2,
    borderWidth: 1,
    borderColor: 'transparent',
  },
  chip: {
    width: CHIP - 4,
    minHeight: TOUCH,
    justifyContent: 'center',
    borderColor: TONES.line,
    paddingTop: 0,
  },
  primary: { borderColor: TONES.heron, backgroundColor: TONES.heronFilled },
  also: { borderColor: TONES.heron, borderStyle: 'dashed', backgroundColor: TONES.reed },
  focused: { outlineColor: TONES.sand, outlineWidth: 2, outlineStyle: 'solid', outlineOffset: 1 },
  off: { opacity: 0.5 },
  none: { backgroundColor: TONES.marsh, borderRadius: RADIUS.small },
  words: { flex: 1 },
  first: { flexDirection: 'row', alignItems: 'center', gap: 6 },
  over: { position: 'absolute', left: 0, right: 0, bottom: 0 },
  tight: { lineHeight: 18 },
  below: { flexDirection: 'row', alignItems: 'center', gap: 4, minHeight: 18 },
})
