/** Puts together what runs an event: cues, tours, recorded moves, devices. */

import type { CueState } from '../../core/cues/predict'
import { NO_SHOW } from '../../core/cues/show'
import { type CueWorld, type Place, placeOf } from '../../core/cues/world'
import { worldFrom } from '../../core/cues/worldFrom'
import { wallTime } from '../../core/cues/zone'
import { SERVER } from '../../core/facts/facts'
import { type Actor, SERVER_ITSELF } from '../../core/orders/actors'
import { isGuarded } from '../../core/orders/guard'
import { USUAL_GUARD } from '../../core/orders/guardSettings'
import type { SwitcherAction } from '../../core/tally/switcher'
import { realClock } from '../cameras/clock'
import type { Facts } from '../facts/facts'
import type { Gate } from '../gate/gate'
import { log } from '../log'
import type { Looks } from '../picture/looks'
import type { Catalogue } from '../store/catalogue'
import type { Database } from '../store/database'
import { keepShow } from '../store/show'
import type { TallyDesk } from '../tally/tally'
import { CueDesk } from './cueDesk'
import { Devices, type MessageValues } from './devices'
import { doStep } from './doStep'
import { Recorder } from './recorder'
import { Tours } from './tours'
import { TravelWaits } from './travelWaits'

export interface CuesNeeds {
  db: Database
  catalogue: Catalogue
  facts: Facts
  gate: Gate
  tally(): Pick<TallyDesk, 'of'>
  switchTo(action: SwitcherAction, camera: string | null): Promise<string | null>
  looks: Pick<Looks, 'recall'>
  notice(text: string): void
}

const NO_WORLD: CueWorld = {
  camera: () => null,
  preset: () => null,
  cue: () => null,
  tour: () => null,
  move: () => null,
  look: () => null,
  device: () => null,
}
const KEEP_AGAIN_MS = 2000
const ON_AIR = 'It waits until its camera is no longer on air.'

export interface Cues {
  desk: CueDesk
  tours: Tours
  devices: Devices
  recorder: Recorder
  /** What a message can have filled in now. */
  values(): MessageValues
  world(): CueWorld
  state(): CueState
  /** A sentence for everybody. */
  notice(text: string): void
  /** Ends all cues and tours, and stops every camera softly. */
  stopAll(by: Actor): void
  close(): void
}

export function openCues(needs: CuesNeeds): Cues {
  const { db, catalogue, facts, gate } = needs
  const clock = realClock
  const view = () => catalogue.current?.view ?? null
  const world = () => (catalogue.current ? worldFrom(catalogue.current.view) : NO_WORLD)
  const timeZone = () => view()?.venue.timeZone ?? 'UTC'
  const waits = new TravelWaits(facts)
  const cameras = () => view()?.cameras ?? []
  const state = (): CueState => {
    const places = new Map<string, Place>()
    for (const { id } of cameras()) {
      const place = placeOf(facts.get('pose', id))
      if (place) places.set(id, place)
    }
    const on = (what: 'program' | 'preview') =>
      cameras().find(({ id }) => needs.tally().of(id)?.state === what)?.id ?? null
    return { places, program: on('program'), preview: on('preview') }
  }
  /** What a message can have filled in: what is on air, where that camera stands, and the time. */
  const values = (): MessageValues => {
    const { hours, minutes, seconds } = wallTime(clock.wall(), timeZone())
    const time = [hours, minutes, seconds].map((x) => String(x).padStart(2, '0')).join(':')
    const airs = cameras().find(({ id }) => needs.tally().of(id)?.state === 'program')
    const travel = airs ? facts.get('travel', airs.id) : null
    const at = travel && travel.state !== 'interrupted' ? world().preset(travel.presetId) : null
    return { time, camera: airs?.number ?? 0, preset: at?.number ?? 0, name: at?.name ?? '' }
  }
  const recorder = new Recorder()
  const devices = new Devices({
    device: (id) => catalogue.current?.devices.find((row) => row.view.id === id) ?? null,
    tell: (id, value) => facts.put('device', id, value),
    wallMs: () => clock.wall(),
    later: (ms) => new Promise((resolve) => clock.after(ms, resolve)),
  })
  const travelling = { gate, waits }
  const tours: Tours = new Tours({
    ...travelling,
    clock,
    tour: (id) => world().tour(id),
    move: (id) => world().move(id),
    kept: (camera) =>
      isGuarded(view()?.event.guard ?? USUAL_GUARD, needs.tally().of(camera)?.state ?? 'off') ? ON_AIR : null,
    still: (camera) => void gate.perform({ t: 'hold', camera }, SERVER_ITSELF),
    changed: () => desk.changed(),
  })
  const desk: CueDesk = new CueDesk({
    ...{ clock, world, state, timeZone, tours, recorder },
    show: () => view()?.show ?? NO_SHOW,
    lend: (ids, actor) => gate.lend(ids, actor),
    doStep: doStep({
      ...{ ...travelling, world, devices },
      ...{ switchTo: needs.switchTo, looks: needs.looks },
      values,
    }),
    tell: (show) => facts.put('show', SERVER, show),
    async keep(kept) {
      const event = view()?.event.id
      if (!event) return true
      try {
        await keepShow(db, event, kept)
        return true
      } catch (error) {
        log.error({ err: error }, 'where the running order stands could not be kept')
        clock.after(KEEP_AGAIN_MS, () => desk.changed())
        return false
      }
    },
    notice: needs.notice,
  })
  facts.listen((all) => {
    for (const { kind, about, value } of all)
      if (kind === 'pose' && value && recorder.has(about)) recorder.see(about, value, value.atMs)
  })
  return {
    ...{ desk, tours, devices, recorder, values, world, state },
    notice: needs.notice,
    stopAll(by) {
      desk.stopAll()
      for (const { id } of cameras()) void gate.perform({ t: 'hold', camera: id }, by)
    },
    close: () => desk.close(),
  }
}
