/** How this person has the Desk in this window, and whether it is being arranged. */
import { createContext, useContext, useMemo } from 'react'
import { mended, type Placement, type Shape } from '../../core/controls/placement'
import { changeControls, useControls } from '../input/controlsStore'
import { pageNumber } from '../live/pageNumber'

export interface Placing {
  shape: Shape
  placement: Placement
  /** Blocks can be moved now. */
  open: boolean
  change(placement: Placement): void
}

/** A second page of the same person has a Desk of its own. */
const keptAs = (shape: Shape) => (pageNumber() === 1 ? shape : `${shape} ${pageNumber()}`)

export function usePlacement(shape: Shape): { placement: Placement; own: boolean } {
  const kept = useControls().placements[keptAs(shape)]
  return useMemo(() => ({ placement: mended(shape, kept), own: kept !== undefined }), [shape, kept])
}

export const changePlacement = (shape: Shape, placement: Placement): void =>
  changeControls((c) => ({ ...c, placements: { ...c.placements, [keptAs(shape)]: placement } }))

export const resetPlacement = (shape: Shape): void =>
  changeControls((c) => {
    const { [keptAs(shape)]: _, ...placements } = c.placements
    return { ...c, placements }
  })

export const PlacingContext = createContext<Placing | null>(null)
export const usePlacing = (): Placing | null => useContext(PlacingContext)
