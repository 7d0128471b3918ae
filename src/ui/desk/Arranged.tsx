/** The blocks of the Desk in the places that an arrangement gives them. */
import type { ReactNode } from 'react'
import { StyleSheet, View } from 'react-native'
import { type Block, type Placement, visible } from '../../core/controls/placement'
import { Key } from '../basics/Key'
import { TONES } from '../theme/tones'
import { type Arrangement, type Column, SWITCH_ROW } from './arrangement'
import { CameraRail, CameraStrip, type RailProps } from './CameraRail'
import { type DeckProps, LeftDeck, PhoneDeck, RightDeck, WideDeck } from './Deck'
import { usePlacing } from './placing'
import { Edge, Slot } from './Slot'

interface ArrangedProps {
  plan: Arrangement
  placement: Placement
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
  if (plan.kind === 'columns') return <Columns {...props} plan={plan} />
  if (plan.kind === 'low') return <Low {...props} low={plan} />
  return <Upright {...props} plan={plan} />
}

type UprightPlan = Arrangement & { kind: 'upright' | 'tablet' }

function Upright({
  plan,
  placement,
  rail,
  stage,
  board,
  deck,
  switchKeys,
}: ArrangedProps & { plan: UprightPlan }) {
  const small = plan.kind === 'upright' && plan.small
  const blocks = visible(placement).flat()
  const keys = switchKeys('row')
  const nodes: Partial<Record<Block, ReactNode>> = {
    cameras: <CameraStrip {...rail} compact={small} />,
    picture: stage,
    presets: board,
    deck:
      plan.kind === 'tablet' ? (
        <>
          {keys ? <View style={styles.switch}>{keys}</View> : null}
          <WideDeck {...deck} apart roomy={false} />
        </>
      ) : (
        <PhoneDeck {...deck} small={plan.small} switchKeys={switchKeys('column')} />
      ),
  }
  return (
    <>
      {blocks.map((block, i) => (
        <Slot
          key={block}
          block={block}
          style={
            block === 'picture'
              ? styles.top
              : block === 'presets'
                ? styles.flexible
                : block === 'deck' && i > 0
                  ? styles.below
                  : null
          }
        >
          {nodes[block]}
        </Slot>
      ))}
      {/* Without presets the deck stays at the thumbs. */}
      {blocks.includes('presets') ? null : <View style={styles.flexible} />}
    </>
  )
}

const RAIL_PADDING = 10

type ColumnsPlan = Arrangement & { kind: 'columns' }

function Columns(props: ArrangedProps & { plan: ColumnsPlan }) {
  const { plan } = props
  const placing = usePlacing()
  return (
    <View style={styles.columns}>
      {placing?.open ? <Edge side="left" /> : null}
      {plan.columns.map((column, i) => (
        <OneColumn key={column.blocks.join()} {...props} column={column} first={i === 0} />
      ))}
      {placing?.open ? <Edge side="right" /> : null}
    </View>
  )
}

function OneColumn(props: ArrangedProps & { plan: ColumnsPlan; column: Column; first: boolean }) {
  const { plan, column, first, rail, stage, tools, deck, board, switchKeys } = props
  const { blocks, width } = column
  const main = width === null
  // The rail fills what stands below it; beside a picture the cameras are a strip.
  const asRail = !main && (blocks.length === 1 || !blocks.includes('presets'))
  const keysHere = blocks.includes('cameras') && asRail
  const nodes: Partial<Record<Block, ReactNode>> = {
    cameras: asRail ? (
      <CameraRail {...rail} switchKeys={switchKeys('row')} width={(width ?? 0) - 2 * RAIL_PADDING} />
    ) : (
      <CameraStrip {...rail} compact withKeys onAir={undefined} />
    ),
    picture: stage,
    tools,
    presets: board,
    deck: main ? (
      <WideDeck {...deck} apart={false} roomy={plan.roomy} />
    ) : (
      <PhoneDeck {...deck} small switchKeys={keysHere ? null : switchKeys('column')} />
    ),
  }
  return (
    <View
      style={[
        main ? styles.middle : { width },
        !main && blocks[0] === 'presets' && styles.side,
        !first && styles.divided,
      ]}
    >
      {blocks.map((block) => (
        <Slot
          key={block}
          block={block}
          style={
            block === 'presets'
              ? styles.flexible
              : block === 'cameras'
                ? asRail
                  ? styles.rail
                  : styles.stretched
                : block === 'deck'
                  ? styles.stretched
                  : null
          }
        >
          {nodes[block]}
        </Slot>
      ))}
    </View>
  )
}

type LowPlan = Arrangement & { kind: 'low' }

function Low(props: ArrangedProps & { low: LowPlan }) {
  const { low, placement, rail, stage, deck, board, row, switchKeys, boardOpen, onCloseBoard } = props
  const columns = visible(placement)
  const has = (block: Block) => !placement.hidden.includes(block)
  const middle = (
    <View key="middle" style={styles.lowMiddle}>
      {boardOpen && !low.beside ? (
        <View style={styles.open}>
          <Key label="Back to the picture" onPress={onCloseBoard} testID="board-close" />
          {board}
        </View>
      ) : (
        <>
          {has('cameras') ? (
            <Slot block="cameras">
              <CameraStrip {...rail} compact withKeys />
            </Slot>
          ) : null}
          {has('picture') ? (
            <Slot block="picture" style={styles.lowStage}>
              {stage}
            </Slot>
          ) : null}
          {low.beside || !has('presets') ? null : <Slot block="presets">{row}</Slot>}
        </>
      )}
    </View>
  )
  return (
    <View style={styles.low}>
      {columns.map((blocks) => {
        if (blocks[0] === 'zoom')
          return (
            <Slot key="zoom" block="zoom">
              <LeftDeck {...deck} height={low.beside ? low.pad : low.pad + 3 * 52} withSpeed={low.speed} />
            </Slot>
          )
        if (blocks[0] === 'deck')
          return (
            <Slot key="deck" block="deck">
              <RightDeck
                {...deck}
                beside={low.beside}
                switchKeys={low.beside ? switchKeys('column') : null}
              />
            </Slot>
          )
        if (low.beside && blocks[0] === 'presets')
          return (
            <Slot key="presets" block="presets" style={[styles.lowBoard, { width: low.side }]}>
              {board}
            </Slot>
          )
        return middle
      })}
    </View>
  )
}

const styles = StyleSheet.create({
  columns: { flex: 1, flexDirection: 'row', minHeight: 0 },
  rail: { padding: RAIL_PADDING, flex: 1, minHeight: 0 },
  middle: { flex: 1, alignItems: 'center', paddingTop: 10, gap: 6, minWidth: 0 },
  side: { paddingTop: 4 },
  divided: { borderLeftWidth: 1, borderLeftColor: TONES.line },
  stretched: { alignSelf: 'stretch', alignItems: 'stretch' },
  flexible: { flex: 1, minHeight: 0, alignSelf: 'stretch' },
  top: { alignItems: 'center', paddingTop: 6 },
  below: { borderTopWidth: 1, borderTopColor: TONES.line },
  switch: { paddingHorizontal: 12, paddingTop: 8, height: SWITCH_ROW },
  low: { flex: 1, flexDirection: 'row', gap: 8, padding: 8, minHeight: 0 },
  lowMiddle: { flex: 1, minWidth: 0 },
  lowStage: { alignItems: 'center' },
  lowBoard: { minHeight: 0 },
  open: { flex: 1, minHeight: 0, gap: 4 },
})
