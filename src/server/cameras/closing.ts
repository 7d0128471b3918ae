/** The last word to a device is a stop, and it is given a moment to be answered. */
import type { Clock } from './clock'

const TRIES = 25
const EVERY_MS = 20

export async function stopAnswered(clock: Clock, pending: () => boolean): Promise<void> {
  for (let i = 0; i < TRIES && pending(); i++) {
    await new Promise<void>((resolve) => clock.after(EVERY_MS, resolve))
  }
}
