/** What is used of the package fft.js, which ships no types. Complex values lie as pairs. */
declare module 'fft.js' {
  export default class FFT {
    constructor(size: number)
    transform(out: number[], data: number[]): void
    inverseTransform(out: number[], data: number[]): void
  }
}
