/** Every place's help page, by its path; the texts live beside the views. */
import { CUES_HELP } from '../cues/help'
import { DESK_HELP } from '../desk/help'
import { HELPER_HELP } from '../helpers/help'
import { PRESETS_HELP } from '../presets/help'
import { SETUP_HELP } from '../setup/help'
import { SIGHTLINES_HELP } from '../sightlines/help'
import { PICTURE_HELP } from '../tuning/help'
import type { HelpPage } from './page'

export const HELP: Readonly<Record<string, HelpPage>> = {
  '/': DESK_HELP,
  '/cues': CUES_HELP,
  '/picture': PICTURE_HELP,
  '/sightlines': SIGHTLINES_HELP,
  '/presets': PRESETS_HELP,
  '/setup': SETUP_HELP,
  '/helper': HELPER_HELP,
}

/** The first evening on the demo's barn, step by step. */
export const WALK: readonly { path: string; what: string }[] = [
  { path: '/', what: 'Select camera 1, Gallery, and push the pad gently. Push it to its rim, then let go.' },
  {
    path: '/',
    what: 'Touch a team’s table in the picture: the camera aims at it. Draw a box around it: it fills the picture.',
  },
  { path: '/', what: 'Press Store, and name the new preset. Drive away, then touch its tile.' },
  {
    path: '/',
    what: 'Select camera 3, Lectern: it is on air. Recall one of its presets, and see how gently it moves.',
  },
  { path: '/presets', what: 'Find a preset by two letters of its name, and pin it.' },
  {
    path: '/cues',
    what: 'Press Go, and watch what the cue does in its lanes. Stop it, and make another one next.',
  },
  {
    path: '/picture',
    what: 'Set the exposure to Manual and drag the iris. Keep it as a look, spoil it, and recall it.',
  },
  {
    path: '/setup',
    what: 'In People, become the owner. Invite a helper to the desk “Tables”, and open the link on a phone.',
  },
  {
    path: '/setup',
    what: 'In Cameras, find your own cameras. In Venues, make a venue of your own when you are ready.',
  },
]

/** Does a page, or a line of it, hold these letters? */
export function found(page: HelpPage, text: string): HelpPage | null {
  const wanted = text.trim().toLowerCase()
  if (wanted === '') return page
  const holds = (...all: string[]) => all.some((one) => one.toLowerCase().includes(wanted))
  const controls = page.controls.filter(({ name, does }) => holds(name, does))
  const wrong = page.wrong.filter(({ what, instead }) => holds(what, instead))
  if (controls.length + wrong.length > 0) return { ...page, controls, wrong }
  return holds(page.title, page.about) ? page : null
}
