/** Vectors and turns for tests, as matrices: what they check is written with angles. x right, y up, z ahead. */

export type V = [number, number, number]
export type M = [V, V, V]
export const rad = (deg: number) => (deg * Math.PI) / 180
export const deg = (r: number) => (r * 180) / Math.PI
export const times = (m: M, w: V): V => m.map((row) => row[0] * w[0] + row[1] * w[1] + row[2] * w[2]) as V
export const product = (a: M, b: M): M =>
  a.map((row) => [0, 1, 2].map((j) => row[0] * b[0][j]! + row[1] * b[1][j]! + row[2] * b[2][j]!)) as M
export const transposed = (m: M): M => [0, 1, 2].map((i) => [m[0][i]!, m[1][i]!, m[2][i]!]) as M
/** Up, right and anticlockwise, radians. */
export const tilted = (t: number): M => [
  [1, 0, 0],
  [0, Math.cos(t), Math.sin(t)],
  [0, -Math.sin(t), Math.cos(t)],
]
export const panned = (t: number): M => [
  [Math.cos(t), 0, Math.sin(t)],
  [0, 1, 0],
  [-Math.sin(t), 0, Math.cos(t)],
]
export const rolled = (t: number): M => [
  [Math.cos(t), -Math.sin(t), 0],
  [Math.sin(t), Math.cos(t), 0],
  [0, 0, 1],
]
export const gaussOf = (random: () => number) => () =>
  Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())
