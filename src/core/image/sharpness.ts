/**
 * How sharp a picture is: the energy of its Laplacian in the middle, where focus is judged, against its
 * contrast, so that a dark picture is not called blurred. Grows as the focus comes right; says nothing
 * of two different scenes. After J. L. Pech-Pacheco et al., "Diatom autofocusing in brightfield
 * microscopy: a comparative study", 2000 (variance of the Laplacian).
 */

/** The part of the picture that counts, from its middle. */
const MIDDLE = 0.6

/**
 * @param rgba four bytes a pixel, rows from the top
 * @returns 0 for a plain surface; unbounded, mostly 0 to 4
 */
export function sharpness(rgba: Uint8ClampedArray, width: number, height: number): number {
  const [x0, x1] = [Math.floor((width * (1 - MIDDLE)) / 2), Math.ceil((width * (1 + MIDDLE)) / 2)]
  const [y0, y1] = [Math.floor((height * (1 - MIDDLE)) / 2), Math.ceil((height * (1 + MIDDLE)) / 2)]
  const [w, h] = [x1 - x0, y1 - y0]
  if (w < 3 || h < 3) return 0
  const luma = new Float32Array(w * h)
  let [sum, squares] = [0, 0]
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const i = ((y + y0) * width + x + x0) * 4
      const value = 0.299 * rgba[i]! + 0.587 * rgba[i + 1]! + 0.114 * rgba[i + 2]!
      luma[y * w + x] = value
      sum += value
      squares += value * value
    }
  }
  const count = w * h
  const contrast = squares / count - (sum / count) ** 2
  let energy = 0
  for (let y = 1; y < h - 1; y++) {
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x
      const edge = 4 * luma[i]! - luma[i - 1]! - luma[i + 1]! - luma[i - w]! - luma[i + w]!
      energy += edge * edge
    }
  }
  return energy / ((w - 2) * (h - 2)) / (contrast + 4)
}
