/** Rounds under way, at most one for each camera. A hand on the camera ends its round at once. */

import type { Actor } from '../../core/orders/actors'
import { AS_USUAL } from '../../core/orders/entries'
import { MAY_ALL } from '../../core/people/may'
import type { Round, RoundOrder } from '../../core/presets/round'
import type { Clock } from '../cameras/clock'
import type { Member } from '../fleet'
import type { Gate } from '../gate/gate'
import { log } from '../log'
import type { GiveBack } from '../picture/heldPicture'
import { bumpRound } from './bumpRound'
import { learnRound } from './learnRound'
import { memoriesRound } from './memoriesRound'
import { picturesRound } from './picturesRound'
import type { RoundStore } from './roundStore'
import type { RoundWork } from './roundWork'
import { surveyRound } from './surveyRound'
import { bare } from './takeShot'

export interface RoundsDeps {
  /** Null if there is no such camera, or it is switched off. */
  memberOf(cameraId: string): Member | null
  storeOf(member: Member): RoundStore
  gate: Pick<Gate, 'perform' | 'halt'>
  clock: Clock
  tell(cameraId: string, round: Round): void
  /** Holds exposure and white balance; null: there is nothing to hold. */
  hold(cameraId: string): Promise<GiveBack | null>
}

const A_HAND = 'Somebody else moves the camera now.'
/** It had been held up itself, and the guardian has stopped what moved. */
const BY_SERVER = 'The server had to stop the camera.'

interface Running {
  readonly actor: Actor
  readonly member: Member
  round: Round
  goesOn: boolean
  /** Called when it is to go on; null while it is not paused. */
  waiting: (() => void)[] | null
}

export class Rounds {
  private readonly running = new Map<string, Running>()

  constructor(private readonly deps: RoundsDeps) {}

  /** Those under way, by camera. */
  get all(): [string, Round][] {
    return [...this.running].map(([camera, { round }]) => [camera, round])
  }

  /** @returns why it cannot begin; null when it has */
  start(cameraId: string, order: RoundOrder): string | null {
    const { deps } = this
    const member = deps.memberOf(cameraId)
    if (!member) return 'This camera is switched off in the desk, or no longer in the list.'
    if (this.running.has(cameraId)) return 'This camera is on a round already. Stop that one first.'
    if (order.kind === 'memories' && member.camera.capabilities.memories < order.to)
      return `This camera has ${member.camera.capabilities.memories} memories of its own.`
    const run: Running = {
      member,
      actor: { kind: 'round', id: `round ${cameraId}`, name: () => 'A round', may: MAY_ALL },
      goesOn: true,
      waiting: null,
      round: {
        kind: order.kind,
        state: 'running',
        total: 0,
        through: 0,
        taken: 0,
        empty: 0,
        paused: false,
        bump: null,
        bumped: false,
        at: '',
        troubles: [],
        reason: null,
      },
    }
    this.running.set(cameraId, run)
    const tell = (change: Partial<Round>) => {
      run.round = { ...run.round, ...change }
      deps.tell(cameraId, run.round)
    }
    const store = deps.storeOf(member)
    const work: RoundWork = {
      store,
      member,
      clock: deps.clock,
      async perform(order) {
        const { waiting } = run
        if (waiting) await new Promise<void>((resolve) => waiting.push(resolve))
        if (!run.goesOn) return { ok: false, message: 'It was stopped.' }
        return deps.gate.perform(order, run.actor)
      },
      get goesOn() {
        // A camera that was set up again, or taken out, is another one.
        return run.goesOn && store.open && deps.memberOf(cameraId)?.camera === member.camera
      },
      end: (reason) => void this.stop(cameraId, reason),
      tell,
      trouble: (text) => tell({ troubles: [...run.round.troubles, text] }),
    }
    void this.carryOut(cameraId, work, order, run)
    return null
  }

  /** It waits before its next step, and goes on when it is told to. @returns whether there is such a round */
  pause(cameraId: string, on: boolean): boolean {
    const run = this.running.get(cameraId)
    if (!run) return false
    for (const go of run.waiting ?? []) go()
    run.waiting = on ? [] : null
    run.round = { ...run.round, paused: on }
    this.deps.tell(cameraId, run.round)
    return true
  }

  /** @param reason null: the operator told it to */
  stop(cameraId: string, reason: string | null = null): boolean {
    const run = this.running.get(cameraId)
    if (!run) return false
    if (!run.goesOn) return true
    run.goesOn = false
    for (const go of run.waiting ?? []) go()
    run.waiting = null
    run.round = { ...run.round, reason: run.round.reason ?? reason }
    // It stops at once, even in mid-travel; a hand that has it is left alone.
    if (reason !== A_HAND && reason !== BY_SERVER) this.deps.gate.halt(new Set([cameraId]))
    return true
  }

  /** Somebody moves this camera now; the round's own steps do not end it. */
  taken(cameraId: string, by: Actor): void {
    if (this.running.get(cameraId)?.actor.id !== by.id)
      this.stop(cameraId, by.kind === 'server' ? BY_SERVER : A_HAND)
  }

  private async carryOut(cameraId: string, work: RoundWork, order: RoundOrder, run: Running): Promise<void> {
    const { camera } = work.member
    const from = camera.pose
    let giveBack: GiveBack | null = null
    work.tell({ at: order.kind === 'survey' ? 'Holding exposure and white balance…' : '' })
    try {
      // Its pictures are put side by side: the light of one place must not change what the next one looks like.
      if (order.kind === 'survey') giveBack = await this.deps.hold(cameraId)
      if (order.kind === 'pictures') await picturesRound(work)
      else if (order.kind === 'survey') await surveyRound(work, order.part ?? null)
      else if (order.kind === 'bump') await bumpRound(work)
      else if (order.kind === 'learn') await learnRound(work, order.steps)
      else await memoriesRound(work, order)
    } catch (error) {
      log.error({ err: error }, 'a round failed')
      this.stop(cameraId, 'The server could not go on. Try again.')
    }
    const unset = await giveBack?.().catch((error) => {
      log.error({ err: error }, 'the picture could not be given back')
      return ['Exposure and white balance may still be set by hand: see Picture.']
    })
    for (const problem of unset ?? []) work.trouble(problem)
    this.running.delete(cameraId)
    const stopped = !work.goesOn
    if (stopped && run.goesOn) {
      const reason = work.store.open ? 'It was set up again.' : 'Another event was opened.'
      run.round = { ...run.round, reason }
    }
    work.tell({ state: stopped ? 'stopped' : 'finished', at: '', paused: false })
    // Back to where the operator left it.
    if (!stopped && from) {
      await work.perform({ t: 'goToPose', ...AS_USUAL, camera: cameraId, pose: bare(from) })
    }
  }
}
