/** Commands to a VISCA camera, each with its outcome. */
import { encodeCommand, type ViscaCommand } from '../../../core/visca/commands'
import type { ViscaSession } from '../../../core/visca/session'
import type { FailReason, Lane } from '../../../core/visca/sessionTypes'
import type { CameraResult } from '../camera'
import type { Clock } from '../clock'
import { reasonText } from './words'

export const commandKey = (command: ViscaCommand): string => encodeCommand(command).join()

export class Outcomes {
  private readonly outcomes = new Map<number, (result: CameraResult) => void>()
  /** Recalls of a memory that the camera has taken and not yet completed. */
  private readonly running = new Set<number>()

  constructor(
    private readonly session: ViscaSession,
    private readonly clock: Clock,
  ) {}

  /** Settles when the camera has taken or refused it. */
  queue(command: ViscaCommand, lanes: readonly Lane[]): Promise<CameraResult> {
    const id = this.session.send(command, { lanes, urgency: 'queued' }, this.clock.now())
    if (command.kind === 'memory' && command.action === 'recall') this.running.add(id)
    return new Promise((resolve) => this.outcomes.set(id, resolve))
  }

  /** Is a recall of a memory under way? */
  get memoryRuns(): boolean {
    return this.running.size > 0
  }

  accepted(id: number): void {
    this.resolve(id, { ok: true })
  }

  /** Over, or a newer order took its place. */
  ended(id: number): void {
    this.running.delete(id)
    this.resolve(id, { ok: true })
  }

  failed(id: number, reason: FailReason): void {
    this.running.delete(id)
    this.resolve(id, {
      ok: false,
      message: reasonText(reason),
      refused: reason === 'not-executable',
      unknown: reason === 'syntax',
    })
  }

  /** The camera fell silent: whether it still runs is not known. */
  forget(): void {
    this.running.clear()
  }

  private resolve(id: number, result: CameraResult): void {
    this.outcomes.get(id)?.(result)
    this.outcomes.delete(id)
  }
}
