/** The HTTP API as one value, so that its type is known to the pages. */
import { Hono } from 'hono'
import { bumpRoutes } from './routes/bumps'
import { cameraRoutes } from './routes/cameras'
import { commandSetRoutes } from './routes/commandSets'
import { demoRoutes } from './routes/demo'
import type { Deps } from './routes/deps'
import { deskRoutes } from './routes/desk'
import { deviceRoutes } from './routes/devices'
import { eventRoutes } from './routes/events'
import { findingRoutes } from './routes/finding'
import { headCheckRoutes } from './routes/headCheck'
import { headProfileRoutes } from './routes/headProfiles'
import { journalRoutes } from './routes/journal'
import { learntRoutes } from './routes/learnt'
import { lookRoutes } from './routes/looks'
import { matchRoutes } from './routes/match'
import { moveRoutes } from './routes/moves'
import { partRoutes } from './routes/parts'
import { meRoutes, peopleRoutes } from './routes/people'
import { personRoutes } from './routes/persons'
import { pictureRoutes } from './routes/pictures'
import { presetListRoutes } from './routes/presetLists'
import { presetRoutes } from './routes/presets'
import { remoteDoor, remoteRoutes } from './routes/remote'
import { reportRoutes } from './routes/report'
import { roomRoutes } from './routes/room'
import { roundRoutes } from './routes/rounds'
import { runningRoutes } from './routes/running'
import { seatGridRoutes } from './routes/seatGrids'
import { surveyRoutes } from './routes/surveys'
import { tallyRoutes } from './routes/tally'
import { venueRoutes } from './routes/venues'

export function createApi(deps: Deps) {
  return new Hono()
    .route('/', deskRoutes(deps))
    .route('/presets', presetListRoutes(deps))
    .route('/presets', seatGridRoutes(deps))
    .route('/presets', presetRoutes(deps))
    .route('/events', eventRoutes(deps))
    .route('/cameras', cameraRoutes(deps))
    .route('/cameras', roundRoutes(deps))
    .route('/demo', demoRoutes(deps))
    .route('/find', findingRoutes(deps))
    .route('/venues', venueRoutes(deps))
    .route('/command-sets', commandSetRoutes(deps))
    .route('/head-profiles', headProfileRoutes(deps))
    .route('/cameras', reportRoutes(deps))
    .route('/cameras', headCheckRoutes(deps))
    .route('/cameras', learntRoutes(deps))
    .route('/cameras', bumpRoutes(deps))
    .route('/cameras', moveRoutes(deps))
    .route('/tally', tallyRoutes(deps))
    .route('/', runningRoutes(deps))
    .route('/cues', partRoutes('cue', deps))
    .route('/tours', partRoutes('tour', deps))
    .route('/moves', partRoutes('move', deps))
    .route('/starts', partRoutes('start', deps))
    .route('/buttons', partRoutes('button', deps))
    .route('/looks', lookRoutes(deps))
    .route('/match', matchRoutes(deps))
    .route('/looks', partRoutes('look', deps))
    .route('/desks', partRoutes('desk', deps))
    .route('/devices', deviceRoutes(deps))
    .route('/remote', remoteDoor(deps))
    .route('/remote-settings', remoteRoutes(deps))
    .route('/persons', personRoutes(deps))
    .route('/me', meRoutes(deps))
    .route('/people', peopleRoutes(deps))
    .route('/journal', journalRoutes(deps))
    .route('/surveys', surveyRoutes(deps))
    .route('/room', roomRoutes(deps))
    .route('/pictures', pictureRoutes(deps))
}

export type Api = ReturnType<typeof createApi>
export type { PresetView, VersionView } from '../core/presets/preset'
export type { Candidate, Search, SearchOrder } from './finding/finder'
export type { Offer, Outcome } from './finding/outcome'
export type { Stored } from './routes/answers'
export type { Ways } from './routes/finding'
export type { Before } from './routes/parts'
export type { RemoteSettings } from './routes/remote'
export type { TallyView } from './routes/tally'
export type { CameraView, DeskView } from './store/catalogue'
export type { PersonView } from './store/persons'
export type { ImportMode, ImportPlan, ModePlan } from './venues/importPlan'
