/**
 * Which blocks the Desk shows, where and how large: one placement for each shape of window, kept with the
 * person. Columns stand from left to right, the blocks of a column from top to bottom.
 */
import * as v from 'valibot'

/** `strip` and `slim`: beside, or below, another program. */
export const SHAPES = ['strip', 'phone', 'across', 'slim', 'tablet', 'wide'] as const
export type Shape = (typeof SHAPES)[number]

/** `zoom`: the zoom strip with the speed, where a low window has it at the other thumb. */
export const BLOCKS = ['cameras', 'picture', 'tools', 'presets', 'zoom', 'deck', 'switch', 'order'] as const
export type Block = (typeof BLOCKS)[number]

export const LEAST_SIZE = 0.6
export const MOST_SIZE = 1.5
const Size = v.pipe(v.number(), v.minValue(LEAST_SIZE), v.maxValue(MOST_SIZE))
const Blocks = v.pipe(v.array(v.picklist(BLOCKS)), v.maxLength(BLOCKS.length))

export const Placement = v.object({
  columns: v.pipe(v.array(Blocks), v.maxLength(BLOCKS.length)),
  hidden: Blocks,
  /** Of the usual size; 1 where it is not named. */
  size: v.partial(v.object(v.entriesFromList(BLOCKS, Size))),
})
export type Placement = v.InferOutput<typeof Placement>

const usual = (...columns: Block[][]): Placement => ({ columns, hidden: [], size: {} })

export const USUAL_PLACEMENT: Record<Shape, Placement> = {
  strip: usual(['cameras', 'picture', 'presets', 'deck']),
  phone: usual(['cameras', 'picture', 'presets', 'deck']),
  tablet: usual(['cameras', 'picture', 'presets', 'deck']),
  across: usual(['zoom'], ['cameras', 'picture', 'presets'], ['deck']),
  slim: usual(['zoom'], ['cameras', 'picture'], ['deck'], ['presets']),
  wide: usual(['cameras'], ['picture', 'tools', 'deck'], ['presets']),
}

/** Shown or not, at a place of their own. */
const FIXED: Record<Shape, readonly Block[]> = {
  strip: ['switch'],
  phone: ['switch'],
  tablet: ['switch'],
  across: ['switch'],
  slim: ['switch'],
  wide: ['switch', 'order'],
}

const SIZED: Record<Shape, readonly Block[]> = {
  strip: ['picture', 'deck'],
  phone: ['picture', 'deck'],
  tablet: ['picture', 'deck'],
  across: ['picture', 'deck'],
  slim: ['picture', 'deck'],
  wide: ['cameras', 'picture', 'presets', 'deck'],
}

export const blocksOf = (shape: Shape): readonly Block[] => [
  ...USUAL_PLACEMENT[shape].columns.flat(),
  ...FIXED[shape],
]

/** In a low window the columns move whole: what stands above each other there has no height elsewhere. */
const inWholeColumns = (shape: Shape) => shape === 'across' || shape === 'slim'
/** A block on its own beside the others is for wide windows. */
export const hasFreeColumns = (shape: Shape) => shape === 'wide'

export const sizeable = (shape: Shape, block: Block): boolean => SIZED[shape].includes(block)
export const movable = (shape: Shape, block: Block): boolean =>
  USUAL_PLACEMENT[shape].columns.flat().includes(block) &&
  (!inWholeColumns(shape) || block === columnTitle(USUAL_PLACEMENT[shape], block))

/** The block by which a column of a low window is moved. */
function columnTitle({ columns }: Placement, block: Block): Block | undefined {
  const column = columns.find((c) => c.includes(block))
  return column?.find((b) => b === 'picture') ?? column?.[0]
}

const without = (columns: readonly Block[][], block: Block): Block[][] =>
  columns.map((column) => column.filter((b) => b !== block))
const filled = (columns: readonly Block[][]): Block[][] => columns.filter((column) => column.length > 0)

/**
 * A kept placement, made whole for its shape: each block once, none that it does not have. Placements may be
 * older than the program, or come from a file.
 */
export function mended(shape: Shape, kept: Placement | undefined): Placement {
  const base = USUAL_PLACEMENT[shape]
  if (!kept) return base
  const wanted = base.columns.flat()
  const seen = new Set<Block>()
  const once = (block: Block) => wanted.includes(block) && !seen.has(block) && seen.add(block) !== null
  let columns = filled(kept.columns.map((column) => column.filter(once)))
  const whole = inWholeColumns(shape)
    ? columns.every((column) => base.columns.some((b) => b.join() === column.join()))
    : hasFreeColumns(shape) || columns.length <= 1
  const missing = wanted.filter((block) => !seen.has(block))
  if (!whole || (missing.length > 0 && inWholeColumns(shape))) columns = base.columns
  else if (missing.length > 0) columns = [...columns.slice(0, -1), [...(columns.at(-1) ?? []), ...missing]]
  const hidden = blocksOf(shape).filter((block) => kept.hidden.includes(block))
  return { columns, hidden: hidden.length < blocksOf(shape).length ? hidden : [], size: kept.size }
}

/** @param to another block, whose place it takes; or an edge of the window, for a column of its own */
export function moved(shape: Shape, placement: Placement, block: Block, to: Block | 'left' | 'right') {
  if (block === to || !movable(shape, block)) return placement
  const { columns } = placement
  if (inWholeColumns(shape)) {
    const from = columns.findIndex((c) => c.includes(block))
    const at = columns.findIndex((c) => c.includes(to as Block))
    if (from < 0 || at < 0 || from === at) return placement
    const next = [...columns]
    next.splice(at, 0, ...next.splice(from, 1))
    return { ...placement, columns: next }
  }
  if (to === 'left' || to === 'right') {
    if (!hasFreeColumns(shape)) return placement
    const rest = filled(without(columns, block))
    return { ...placement, columns: to === 'left' ? [[block], ...rest] : [...rest, [block]] }
  }
  if (!movable(shape, to)) return placement
  const next = columns.map((column) => {
    const at = column.indexOf(to)
    if (at < 0) return column.filter((b) => b !== block)
    // Moved down its own column it stands below the other, as the hand expects.
    const below = column.includes(block) && column.indexOf(block) < at
    const rest = column.filter((b) => b !== block)
    rest.splice(rest.indexOf(to) + (below ? 1 : 0), 0, block)
    return rest
  })
  return { ...placement, columns: filled(next) }
}

/** One place earlier or later, for the keyboard. */
export function stepped(shape: Shape, placement: Placement, block: Block, by: 1 | -1): Placement {
  const row = placement.columns.flat().filter((b) => movable(shape, b))
  const other = row[row.indexOf(block) + by]
  if (other) return moved(shape, placement, block, other)
  return moved(shape, placement, block, by < 0 ? 'left' : 'right')
}

/** The last block that is shown stays. */
export function shown(placement: Placement, block: Block, on: boolean): Placement {
  const hidden = on ? placement.hidden.filter((b) => b !== block) : [...placement.hidden, block]
  const left = placement.columns.flat().filter((b) => !hidden.includes(b))
  return left.length === 0 || new Set(hidden).size !== hidden.length ? placement : { ...placement, hidden }
}

export function sized(placement: Placement, block: Block, by: number): Placement {
  const size = Math.min(MOST_SIZE, Math.max(LEAST_SIZE, (placement.size[block] ?? 1) + by))
  return { ...placement, size: { ...placement.size, [block]: Math.round(size * 100) / 100 } }
}

/** What is shown, by columns. */
export const visible = ({ columns, hidden }: Placement): Block[][] =>
  filled(columns.map((column) => column.filter((block) => !hidden.includes(block))))
