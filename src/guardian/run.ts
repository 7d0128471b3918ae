/** Something that is being stopped. */
export interface StopRun {
  /** Has the device answered to all of it? */
  readonly answered: boolean
  end(): void
}
