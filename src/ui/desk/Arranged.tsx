/** The blocks of the Desk in the places that an arrangement gives them. */
import type { ReactNode } from 'react'
import { StyleSheet, View } from 'react-native'
import { Key } from '../basics/Key'
import { TONES } from '../theme/tones'
import { type Arrangement, SWITCH_ROW } from './arrangement'
import { CameraRail, CameraStrip, type RailProps } from './CameraRail'
import { type DeckProps, LeftDeck, PhoneDeck, RightDeck, WideDeck } from './Deck'

interface ArrangedProps {
  plan: Arrangement
  rail: RailProps
  /** The picture with its scales. */
  stage: ReactNode
  /** What a touch on the picture does. */
  tools: ReactNode
  deck: DeckProps
  board: ReactNode
  /** Preview and Cut; null where nothing can be cut. */
  switchKeys(as: 'row' | 'column' | 'low'): ReactNode
  /** The presets as one row. */
  row: ReactNode
  /** The whole board stands in place of the picture of a low window. */
  boardOpen: boolean
  onCloseBoard(): void
}

export function Arranged(props: ArrangedProps) {
  const { plan } = props
  if (plan.kind === 'columns') return <Columns {...props} rails={plan} />
  if (plan.kind === 'low') return <Low {...props} low={plan} />
  const { rail, stage, board, deck, switchKeys } = props
  return (
    <>
      <CameraStrip {...rail} compact={plan.kind === 'upright' && plan.small} />
      <View style={styles.top}>{stage}</View>
      {board}
      <View style={styles.below}>
        {plan.kind === 'tablet' ? (
          <>
            {switchKeys('row') ? <View style={styles.switch}>{switchKeys('row')}</View> : null}
            <WideDeck {...deck} apart roomy={false} />
          </>
        ) : (
          <PhoneDeck {...deck} small={plan.small} switchKeys={switchKeys('column')} />
        )}
      </View>
    </>
  )
}

const RAIL_PADDING = 10

type Rails = Arrangement & { kind: 'columns' }

function Columns({ rails, rail, stage, tools, deck, board, switchKeys }: ArrangedProps & { rails: Rails }) {
  return (
    <View style={styles.columns}>
      <View style={[styles.rail, { width: rails.rail }]}>
        <CameraRail {...rail} switchKeys={switchKeys('row')} width={rails.rail - 2 * RAIL_PADDING} />
      </View>
      <View style={styles.middle}>
        {stage}
        {tools}
        <WideDeck {...deck} apart={false} roomy={rails.roomy} />
      </View>
      <View style={[styles.side, { width: rails.side }]}>{board}</View>
    </View>
  )
}

type LowPlan = Arrangement & { kind: 'low' }

function Low(props: ArrangedProps & { low: LowPlan }) {
  const { low, rail, stage, deck, board, row, switchKeys, boardOpen, onCloseBoard } = props
  return (
    <View style={styles.low}>
      <LeftDeck {...deck} height={low.beside ? low.pad : low.pad + 3 * 52} withSpeed={low.speed} />
      <View style={styles.lowMiddle}>
        {boardOpen && !low.beside ? (
          <View style={styles.open}>
            <Key label="Back to the picture" onPress={onCloseBoard} testID="board-close" />
            {board}
          </View>
        ) : (
          <>
            <CameraStrip {...rail} compact withKeys />
            <View style={styles.lowStage}>{stage}</View>
            {low.beside ? null : row}
          </>
        )}
      </View>
      <RightDeck {...deck} beside={low.beside} switchKeys={low.beside ? switchKeys('column') : null} />
      {low.beside ? <View style={[styles.lowBoard, { width: low.side }]}>{board}</View> : null}
    </View>
  )
}

const styles = StyleSheet.create({
  columns: { flex: 1, flexDirection: 'row', minHeight: 0 },
  rail: { padding: RAIL_PADDING, borderRightWidth: 1, borderRightColor: TONES.line },
  middle: { flex: 1, alignItems: 'center', paddingTop: 10, gap: 6, minWidth: 0 },
  side: { borderLeftWidth: 1, borderLeftColor: TONES.line, paddingTop: 4 },
  top: { alignItems: 'center', paddingTop: 6 },
  below: { borderTopWidth: 1, borderTopColor: TONES.line },
  switch: { paddingHorizontal: 12, paddingTop: 8, height: SWITCH_ROW },
  low: { flex: 1, flexDirection: 'row', gap: 8, padding: 8, minHeight: 0 },
  lowMiddle: { flex: 1, minWidth: 0 },
  lowStage: { alignItems: 'center' },
  lowBoard: { minHeight: 0 },
  open: { flex: 1, minHeight: 0, gap: 4 },
})
