/** A short page about one view. */
export interface HelpPage {
  title: string
  /** What it shows, in two or three sentences. */
  about: string
  /** What each control does. */
  controls: readonly { name: string; does: string }[]
  /** What people get wrong, and what to do. */
  wrong: readonly { what: string; instead: string }[]
}
