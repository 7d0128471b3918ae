/** In place of the header while the Desk is arranged: what is hidden, the usual arrangement, done. */
import { ScrollView, StyleSheet, View } from 'react-native'
import { blocksOf, shown } from '../../core/controls/placement'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { TONES } from '../theme/tones'
import type { Placing } from './placing'
import { BLOCK_WORDS } from './Slot'

export const ARRANGE_BAR = 58
/** From here on there is room for a sentence, px. */
const SENTENCE_FROM = 900

interface ArrangeBarProps {
  placing: Placing
  width: number
  /** It differs from the usual one. */
  own: boolean
  /** Blocks that this Desk can show now. */
  canSwitch: boolean
  canOrder: boolean
  onReset(): void
  onDone(): void
}

export function ArrangeBar({ placing, width, own, canSwitch, canOrder, onReset, onDone }: ArrangeBarProps) {
  const { shape, placement, change } = placing
  const fixed = blocksOf(shape).filter((b) => (b === 'switch' && canSwitch) || (b === 'order' && canOrder))
  const hidden = placement.hidden.filter((b) => (b !== 'switch' && b !== 'order') || fixed.includes(b))
  const offers = [...hidden, ...fixed.filter((b) => !hidden.includes(b))]
  return (
    <View style={styles.bar} role="banner">
      {width >= SENTENCE_FROM ? (
        <Words size={14} tone="mist">
          Drag a block onto another to put it there.
        </Words>
      ) : null}
      <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.offers}>
        {offers.map((block) => {
          const away = hidden.includes(block)
          return (
            <Key
              key={block}
              label={`${away ? 'Show' : 'Hide'} ${BLOCK_WORDS[block]}`}
              onPress={() => change(shown(placement, block, away))}
              testID={`arrange-${away ? 'show' : 'hide'}-${block}`}
            />
          )
        })}
      </ScrollView>
      <Key label="Reset" disabled={!own} onPress={onReset} testID="arrange-reset" />
      <Key label="Done" tone="filled" onPress={onDone} testID="arrange-done" />
    </View>
  )
}

const styles = StyleSheet.create({
  bar: {
    height: ARRANGE_BAR,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    paddingHorizontal: 10,
    backgroundColor: TONES.marsh,
    borderBottomWidth: 1,
    borderBottomColor: TONES.heron,
  },
  offers: { gap: 8, alignItems: 'center' },
})
