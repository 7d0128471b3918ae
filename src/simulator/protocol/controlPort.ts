/** One way to control a stand-in, as its owner sees it. */
import type { Faults } from './faults'

export interface ControlPort {
  listen(): Promise<void>
  setFaults(faults: Faults): void
  /** Power was cut: what is remembered and what is connected is gone. */
  reboot(): void
  close(): void
}
