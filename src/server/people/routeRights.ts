/**
 * What each route of the API asks of whoever uses it, each once: which right, what it is about, and what the log
 * calls it. A route that is not here is for owners alone, and a test says so.
 */
import { PART_KINDS, SHOW_PARTS } from '../../core/cues/show'
import type { EntryKind } from '../../core/people/journal'
import type { Right } from '../../core/people/rights'

/**
 * What a request is about: the camera or preset of its path, the camera or the presets of its body, the cue of its
 * path; `everything`: only for those from whom nothing is hidden; null: the handler, or the gate, looks itself.
 */
export type About = 'camera' | 'preset' | 'cameraInBody' | 'presetsInBody' | 'cue' | 'everything' | null

export interface RouteRight {
  right: Right
  about: About
  /** Null: it is not in the log, or logged as an order at the gate. */
  log: { kind: EntryKind; what: string } | null
}

const at = (right: Right, about: About = null, kind?: EntryKind, what?: string): RouteRight => ({
  ...{ right, about },
  log: kind && what ? { kind, what } : null,
})
const setup = (what: string) => at('setup', 'everything', 'setup', what)
const read = at('setup', 'everything')

const parts = Object.fromEntries(
  PART_KINDS.flatMap((kind): [string, RouteRight][] => {
    const { path, what } = SHOW_PARTS[kind]
    return [
      [`get /${path}`, at('edit', 'everything')],
      [`get /${path}/{id}/before`, at('edit', 'everything')],
      [`post /${path}/order`, at('edit', 'everything', 'cue', `Ordered each ${what}`)],
      [`put /${path}/{id}`, at('edit', 'everything', 'cue', `Kept a ${what}`)],
      [`delete /${path}/{id}`, at('edit', 'everything', 'cue', `Removed a ${what}`)],
    ]
  }),
)

export const ROUTE_RIGHTS: Readonly<Record<string, RouteRight>> = {
  ...parts,
  'get /me': at('see'),
  'delete /me': at('see'),
  'get /me/passkeys': at('see'),
  'post /me/passkeys/options': at('see'),
  'post /me/passkeys': at('see'),
  'delete /me/passkeys/{id}': at('see'),
  'get /desk': at('see'),
  'get /health': at('see'),
  'get /pictures/{id}': at('see'),
  'get /tally': at('see'),
  'get /show': at('see', 'everything'),
  'get /check': at('edit', 'everything'),
  'post /stop-all': at('recall', null, 'drive', 'Stopped all'),

  'get /persons': at('see'),
  'put /persons/{id}': at('see'),
  'post /persons': at('people'),
  'delete /persons/{id}': at('people'),
  'get /people': at('people'),
  'post /people/accounts': at('people', null, 'people', 'Added a person'),
  'patch /people/accounts/{id}': at('people', null, 'people', 'Changed what a person may'),
  'delete /people/accounts/{id}': at('people', null, 'people', 'Removed a person'),
  'post /people/invitations': at('people', null, 'people', 'Made an invitation'),
  'post /people/invitations/{id}/end': at('people', null, 'people', 'Ended an invitation'),
  'delete /people/invitations/{id}': at('people', null, 'people', 'Removed an invitation'),
  'delete /people/sessions/{id}': at('people', null, 'people', 'Signed somebody out'),
  'get /journal': at('people'),
  'get /journal/csv': at('people'),
  'put /journal/days': at('people', null, 'people', 'Changed how long the log is kept'),

  'get /room': at('see', 'everything'),
  'get /room/picture': at('see', 'everything'),
  'put /room': at('store', 'everything', 'store', 'Changed the room'),
  'put /room/picture': at('store', 'everything', 'store', 'Laid a plan under the room'),
  'delete /room/picture': at('store', 'everything', 'store', 'Took the plan away'),
  'get /surveys': at('see'),
  'get /surveys/{id}/tiles/{level}/{column}/{row}': at('see'),
  'get /surveys/{id}/picture.png': at('see'),
  'get /surveys/{id}/projection.json': at('see'),
  'delete /surveys/{id}': at('store', 'everything', 'store', 'Removed a survey'),
  'put /surveys/{id}/presets/{preset}': at('store', 'everything', 'store', 'Changed a preset on a survey'),
  'post /surveys/{id}/presets': at('store', 'everything', 'store', 'Stored a preset from a survey'),

  'get /presets/{id}/versions': at('store', 'preset'),
  'post /presets': at('store', 'cameraInBody', 'store', 'Stored a new preset'),
  'patch /presets/{id}': at('store', 'preset', 'store', 'Changed a preset'),
  'delete /presets/{id}': at('store', 'preset', 'store', 'Removed a preset'),
  'post /presets/{id}/restore': at('store', 'preset', 'store', 'Brought a preset back'),
  'post /presets/{id}/retake': at('store', 'preset', 'store', 'Renewed a preset'),
  'post /presets/{id}/recall': at('recall', 'preset'),
  'put /presets/{id}/shot': at('store', 'preset', 'store', 'Stored over a preset'),
  'put /presets/{id}/light': at('store', 'preset', 'store', 'Kept light with a preset'),
  'put /presets/{id}/memory': at('store', 'preset', 'store', 'Put a preset into its camera'),
  'put /presets/{id}/picture': at('store', 'preset', 'store', 'Took a new picture for a preset'),
  'put /presets/{id}/version': at('store', 'preset', 'store', 'Went back to a former version of a preset'),
  'post /presets/grid': at('store', 'cameraInBody', 'store', 'Made a seat grid'),
  'get /presets/grids': at('see', 'everything'),
  'put /presets/grids/{id}': at('store', 'everything', 'store', 'Moved a block of seats'),
  'post /presets/remove': at('store', 'presetsInBody', 'store', 'Removed presets'),
  'post /presets/order': at('store', 'presetsInBody', 'store', 'Ordered presets'),
  'post /presets/copy': at('store', 'presetsInBody', 'store', 'Copied presets'),
  'post /presets/list': at('store', 'everything', 'store', 'Read a list of presets'),

  'get /presets/list.csv': read,
  'get /presets/list.json': read,
  'get /cameras/list.csv': read,
  'get /command-sets/schema': at('see'),
  'get /head-profiles/schema': at('see'),
  'get /openapi.json': at('see'),
  'get /show/order.csv': at('edit', 'everything'),
  'get /show/order.html': at('edit', 'everything'),
  'get /cameras/{id}/move': at('recall', 'camera'),
  'get /cameras/{id}/report': at('setup', 'camera'),
  'get /cameras/{id}/report/file': at('setup', 'camera'),
  'patch /cameras/{id}/habits': at('store', 'camera', 'setup', 'Changed how a camera moves'),
  'post /cameras/{id}/limits': at('store', 'camera', 'setup', 'Set limits'),
  'post /cameras/{id}/check': at('store', 'camera'),
  'post /cameras/{id}/round': at('store', 'camera'),
  'delete /cameras/{id}/round': at('recall', 'camera'),
  'post /cameras/{id}/round/pause': at('recall', 'camera'),
  'post /cameras/{id}/mend-bump': at('store', 'camera', 'store', 'Mended a camera that was bumped'),
  'delete /cameras/{id}/mend-bump': at('store', 'camera', 'store', 'Took a mend back'),
  'get /cameras/{id}/learnt': at('setup', 'camera'),
  'delete /cameras/{id}/learnt': setup('Threw away what a camera had learnt'),
  'post /cameras/{id}/learnt/use': setup('Took what a camera has learnt of its head'),
  'post /cameras/{id}/recording': at('picture', 'camera'),
  'put /cameras/{id}/recording': at('edit', 'camera'),
  'delete /cameras/{id}/recording': at('edit', 'camera'),
  'post /cameras/{id}/mend-head': setup('Mended a head profile'),
  'post /cameras': setup('Added a camera'),
  'put /cameras/{id}': setup('Changed a camera'),
  'delete /cameras/{id}': setup('Removed a camera'),
  'post /cameras/{id}/restore': setup('Brought a camera back'),
  'post /cameras/order': setup('Ordered the cameras'),
  'post /cameras/number-by-address': setup('Numbered the cameras'),
  'post /cameras/try': read,
  'post /cameras/power': at('power', 'everything'),

  'post /cues/{id}/go': at('cues', 'cue', 'cue', 'Started a cue'),
  'post /cues/{id}/stop': at('cues', 'cue', 'cue', 'Stopped a cue'),
  'post /show/go': at('cues', 'everything', 'cue', 'Go'),
  'post /show/hold': at('cues', 'everything', 'cue', 'Held the running order'),
  'post /show/next': at('cues', 'everything', 'cue', 'Chose the next cue'),
  'post /show/seen': at('cues', 'everything'),
  'post /tours/{id}/go': at('cues', 'everything', 'cue', 'Started a tour'),
  'post /tours/{id}/go-on': at('cues', 'everything', 'cue', 'Went on with a tour'),
  'post /tours/{id}/stop': at('cues', 'everything', 'cue', 'Stopped a tour'),
  'post /moves/{id}/play': at('cues', 'everything', 'cue', 'Played a recorded move'),
  'post /moves/{id}/stop': at('cues', 'everything', 'cue', 'Stopped a recorded move'),
  'get /looks/csv': at('picture', 'everything'),
  'get /looks/former': at('picture', 'everything'),
  'post /looks/{id}/compare': at('picture', 'everything'),
  'post /looks/{id}/recall': at('picture', 'everything', 'picture', 'Recalled a look'),
  'post /looks/undo/{id}': at('picture', 'everything', 'picture', 'Took a look or a match back'),
  'post /match': at('picture', 'everything', 'picture', 'Matched cameras'),
  'get /devices': at('edit', 'everything'),
  'put /devices/{id}': at('edit', 'everything', 'cue', 'Changed a device'),
  'delete /devices/{id}': at('edit', 'everything', 'cue', 'Removed a device'),
  'post /devices/try': at('edit', 'everything'),
  'post /devices/{id}/messages/{message}': at('cues', 'everything', 'cue', 'Sent a message'),

  'put /tally/settings': setup('Changed where tally comes from'),
  'post /tally/switcher/{action}': at('tally', 'everything', 'guard', 'Used the switcher'),
  'post /tally/{number}': at('tally', 'everything', 'guard', 'Set tally by hand'),

  'get /demo': read,
  'post /demo': setup('Loaded the demo'),
  'delete /demo': setup('Removed the demo'),
  'get /find/ways': read,
  'get /find/{id}': read,
  'post /find': read,
  'delete /find/{id}': read,
  'post /command-sets': setup('Kept a command set'),
  'delete /command-sets/{id}': setup('Removed a command set'),
  'get /command-sets/{id}/file': read,
  'post /head-profiles': setup('Kept a head profile'),
  'delete /head-profiles/{id}': setup('Removed a head profile'),
  'get /head-profiles/{id}/file': read,
  'post /events': setup('Made an event'),
  'patch /events/{id}': setup('Changed an event'),
  'delete /events/{id}': setup('Removed an event'),
  'post /events/{id}/open': setup('Opened an event'),
  'post /venues': setup('Made a venue'),
  'patch /venues/{id}': setup('Changed a venue'),
  'delete /venues/{id}': setup('Removed a venue'),
  'post /venues/{id}/open': setup('Opened a venue'),
  'get /venues/{id}/file': read,
  'get /venues/backups': read,
  'post /venues/backups': setup('Backed the venue up'),
  'post /venues/backups/look': read,
  'post /venues/imports/csv': read,
  'post /venues/imports/zip': read,
  'post /venues/imports/{id}': setup('Imported a file'),
  'delete /venues/imports/{id}': read,
  'get /remote-settings': at('people'),
  'put /remote-settings/osc': at('people', null, 'people', 'Changed OSC'),
  'post /remote-settings/keys': at('people', null, 'people', 'Made a key'),
  'delete /remote-settings/keys/{id}': at('people', null, 'people', 'Ended a key'),
}

const OWNERS_ONLY = at('people', 'everything')

interface Matched {
  rule: RouteRight
  params: Readonly<Record<string, string>>
}

const compiled = Object.entries(ROUTE_RIGHTS)
  .map(([key, rule]) => {
    const [method, path] = key.split(' ') as [string, string]
    const names = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name!)
    const pattern = new RegExp(`^${path.replace(/\{\w+\}/g, '([^/]+)')}$`)
    return { method: method.toUpperCase(), names, pattern, rule }
  })
  // Fixed words first, as the routes themselves have it.
  .sort((a, b) => a.names.length - b.names.length)

/** @param path below `/api` */
export function routeRight(method: string, path: string): Matched {
  const asked = method === 'HEAD' ? 'GET' : method
  for (const { method: of, names, pattern, rule } of compiled) {
    const found = of === asked ? pattern.exec(path) : null
    if (found) return { rule, params: Object.fromEntries(names.map((name, i) => [name, found[i + 1]!])) }
  }
  return { rule: OWNERS_ONLY, params: {} }
}
