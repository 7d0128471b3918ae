/** Something that is being stopped. */
export interface StopRun {
  /** Has the device answered everything? */
  readonly answered: boolean
  end(): void
}
