/** The barn's lights and its scoreboard, as a shot sees them. */
export interface House {
  /** 0..1 each. */
  hall: number
  stage: number
  title: string
  /** By team, in their order. */
  scores: readonly number[]
}

/** Where the stage begins, metres along the barn. */
const STAGE_FROM_Z = 16.4
/** Dark, the windows still let a little in. */
const DARKEST = 0.07

/** How light it is at a place. */
export const lightAt = ({ hall, stage }: House, z: number): number =>
  DARKEST + (1 - DARKEST) * (z > STAGE_FROM_Z ? stage : hall)
