/** All that moves a camera, wired together: the hand, followed moves, presets, and moves over the picture. */
import type { HeadProfile } from '../../core/heads/profile'
import type { Learnt, SpeedLedger } from '../../core/motion/follow/ledger'
import type { Lens } from '../../core/optics/lens'
import type { Sight } from '../../core/optics/sight'
import type { LivePose } from '../../core/presets/pose'
import type { Goal } from './body'
import { CANNOT } from './camera'
import type { Clock } from './clock'
import { travelJoined } from './deviceOrders'
import { Followed } from './followed'
import { driveJoined, type Parts } from './joined'
import type { News } from './news'
import { PictureMoves } from './pictureMoves'
import { Steering } from './steering'
import { Travels } from './travels'

export interface MoversHost {
  profile: HeadProfile
  parts: Parts
  lens: Lens
  ledger: SpeedLedger
  news: News
  clock: Clock
  /** It goes to presets as the head itself counts. */
  byEncoder: boolean
  sight(): Sight
  pose(): LivePose | null
  /** Can it be driven along a plan? */
  follows(): boolean
  stop(): void
  /** What its steps really do is known better now. */
  learnt(learnt: Learnt): void
  /** Its picture is held, or runs again. */
  heldChanged(): void
}

export interface Movers {
  steering: Steering
  followed: Followed
  travels: Travels
  moves: PictureMoves
}

export function makeMovers(host: MoversHost): Movers {
  const { profile, parts, lens, ledger, news, clock } = host
  const common = {
    ...{ profile, ledger, lens },
    sight: () => host.sight(),
    zoomsApart: () => parts.lens.zoomsApart,
    glideTo: (zoom: number, seconds: number, ended: () => void) => steering.glideTo(zoom, seconds, ended),
    travelTo: (goal: Goal) => travelJoined(parts, goal),
  }
  const steering: Steering = new Steering(
    {
      ...common,
      known: () => {
        const [h, l] = [parts.head.reading, parts.lens.reading]
        const { panDeg, tiltDeg, panTiltAtMs } = h
        return { panDeg, tiltDeg, panTiltAtMs, zoom: l.zoom, zoomAtMs: l.zoomAtMs }
      },
      apply: (speeds, refines) => driveJoined(parts, speeds, refines),
    },
    clock,
  )
  const followed = new Followed(
    {
      ...common,
      follows: () => host.follows(),
      stop: () => host.stop(),
      closed: () => {
        if (ledger.changed) host.learnt(ledger.learnt)
        ledger.changed = false
      },
      focus: () => {
        const { focusAuto, focus } = parts.lens.reading
        return focusAuto === false ? focus : null
      },
    },
    steering,
    clock,
  )
  const travels = new Travels(
    {
      ...common,
      followed,
      yield: () => steering.yield(),
      notice: (text) => news.notice(text),
      pose: () => host.pose(),
      byEncoder: () => host.byEncoder,
      freezes: () => parts.lens.orders.freeze !== undefined,
      freeze: async (on) => (await parts.lens.orders.freeze?.(on)) ?? CANNOT('hold its picture'),
      tell: (travel) => news.fact('travel', travel),
      heldChanged: () => host.heldChanged(),
    },
    clock,
  )
  const moves = new PictureMoves(
    {
      ...common,
      view: () => steering.view(),
      zoom: () => host.pose()?.zoom ?? null,
      motion: () => steering.motion(),
      followed,
      takeOver: (goesOn) => {
        travels.interrupt()
        if (!goesOn) steering.yield()
      },
      notice: (text) => news.notice(text),
    },
    clock,
  )
  return { steering, followed, travels, moves }
}
