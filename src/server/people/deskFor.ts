/** The desk as somebody may see it: what they do not reach is not in it. */
import { NO_SHOW } from '../../core/cues/show'
import type { May } from '../../core/people/may'
import { NO_TALLY } from '../../core/tally/sources'
import type { DeskView } from '../store/catalogue'

/** @param desk the helper's desk that they are at; null: none */
export function deskFor(view: DeskView, may: May, desk: string | null): DeskView {
  if (may.everywhere) return view
  const { show } = view
  return {
    ...view,
    event: { ...view.event, words: [] },
    events: view.events.filter(({ id }) => id === view.event.id),
    venues: view.venues.filter(({ id }) => id === view.venue.id),
    cameras: view.cameras.filter(({ id }) => may.camera(id)).map((camera) => ({ ...camera, warnings: [] })),
    presets: view.presets.filter((preset) => may.preset(preset)),
    tally: NO_TALLY,
    devices: [],
    show: {
      ...NO_SHOW,
      cues: show.cues.filter(({ id }) => may.cue(id)),
      desks: show.desks.filter(({ id }) => id === desk),
    },
  }
}
