/** A device is stopped before its link is closed, and given a moment to answer. */
import type { Clock } from './clock'

const TRIES = 25
const EVERY_MS = 20

export async function stopAnswered(clock: Clock, pending: () => boolean): Promise<void> {
  for (let i = 0; i < TRIES && pending(); i++) {
    await new Promise<void>((resolve) => clock.after(EVERY_MS, resolve))
  }
}
