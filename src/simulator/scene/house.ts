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

/** Colour temperature of the lamps over the hall and over the stage, and of what comes through the windows. */
const KELVIN = { hall: 3200, stage: 4300, windows: 6200 }

/** The colour temperature of the light at a place. */
export function kelvinAt(house: House, z: number): number {
  const stage = z > STAGE_FROM_Z
  const lamps = (stage ? house.stage : house.hall) * (1 - DARKEST)
  const mired = (lamps * 1e6) / (stage ? KELVIN.stage : KELVIN.hall) + (DARKEST * 0.2 * 1e6) / KELVIN.windows
  return 1e6 / (mired / (lamps + DARKEST * 0.2))
}

/** How light it is at a place. */
export const lightAt = ({ hall, stage }: House, z: number): number =>
  DARKEST + (1 - DARKEST) * (z > STAGE_FROM_Z ? stage : hall)
