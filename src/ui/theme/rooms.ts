/** The heights and widths that several places share, px. */
export const HEADER = 46
export const SLIM_HEADER = 32
export const PLACES_BELOW = 50
/** Places as a column of icons, at the left of a low window. */
export const PLACES_BESIDE = 56
/** The running order along the bottom of a wide window. */
export const GO_BAR = 91
/** It is there from this height on. */
export const GO_BAR_FROM = 760
export const STRIP = 66
export const COMPACT_STRIP = 48
