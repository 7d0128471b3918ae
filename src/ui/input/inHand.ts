/** The picture setting that was turned last: a knob or a spare axis of a device turns it on. */
export interface SettingInHand {
  /** Of its scale. */
  steps: number
  by(steps: number): void
}

/** Beyond this from the middle an axis means it. */
const MEANT = 0.15
/** A spare axis that is pushed all the way turns so many steps a second. */
const STEPS_PER_SEC = 14
/** A turn of a knob from end to end covers a scale of at most so many steps; a longer one takes several. */
const MOST_A_TURN = 64

let held: SettingInHand | null = null
let rest = 0

export function takeInHand(setting: SettingInHand): void {
  held = setting
  rest = 0
}

export function letGoOf(setting: SettingInHand): void {
  if (held === setting) held = null
}

function turn(steps: number): void {
  if (!held) return
  rest += steps
  const whole = Math.trunc(rest)
  if (whole === 0) return
  rest -= whole
  held.by(whole)
}

/** A knob has been turned by this share of its way. */
export const knobTurned = (share: number): void => turn(share * Math.min(MOST_A_TURN, held?.steps ?? 0))

/** A spare axis of a stick is held so. @param push -1..1 */
export function axisHeld(push: number, seconds: number): void {
  if (Math.abs(push) > MEANT) turn(push * STEPS_PER_SEC * seconds)
}
