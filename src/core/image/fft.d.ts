/** What is used of the package fft.js, which ships no types. Complex values lie as pairs. */
declare module 'fft.js' {
  export default class FFT {
    constructor(size: number)
    transform(out: Float64Array, data: Float64Array): void
    inverseTransform(out: Float64Array, data: Float64Array): void
  }
}
