/** What all routes share. */

import type { Context } from 'hono'
import type { Actor } from '../../core/orders/actors'
import type { Cues } from '../cues/openCues'
import type { Facts } from '../facts/facts'
import type { Finder } from '../finding/finder'
import type { Fleet } from '../fleet'
import type { Gate } from '../gate/gate'
import type { Jobs } from '../jobs/jobs'
import type { LoopDelay } from '../loopWatch'
import type { Journal } from '../people/journal'
import type { Passkeys } from '../people/passkeys'
import type { People } from '../people/people'
import type { Looks } from '../picture/looks'
import type { Matching } from '../picture/matching'
import type { Rounds } from '../presets/rounds'
import type { RemoteKeys } from '../remote/keys'
import type { OscRemote } from '../remote/oscRemote'
import type { Remote } from '../remote/remote'
import type { Catalogue, Changed } from '../store/catalogue'
import type { Database } from '../store/database'
import type { DemoSource } from '../store/demo'
import type { SecretBox } from '../store/secrets'
import type { Switching } from '../tally/switching'
import type { TallyDesk } from '../tally/tally'
import type { Backups } from '../venues/backups'
import type { Imports } from '../venues/imports'

export interface Deps {
  db: Database
  secrets: SecretBox
  catalogue: Catalogue
  fleet: () => Fleet
  finder: Finder
  imports: Imports
  backups: Backups
  rounds: Rounds
  tally: () => TallyDesk
  switching: () => Switching
  cues: () => Cues
  looks: () => Looks
  people: () => People
  passkeys: () => Passkeys
  journal: () => Journal
  /** Where others reach this server, as `http://10.0.0.5:8420`; empty: only this computer does. */
  addresses(): string[]
  matching: () => Matching
  remote: () => Remote
  keys: () => RemoteKeys
  osc: () => OscRemote
  facts: Facts
  gate: Gate
  /** Who sends a request. */
  actorOf(c: Context): Actor
  jobs: Jobs
  databaseUrl: string
  dataFolder: string
  demo: DemoSource
  /** How late the loop runs. */
  loopDelay(): LoopDelay
  /** Does the guardian watch? */
  guarded(): boolean
  /** How many are open. */
  pages(): number
  databaseAnswers: () => Promise<boolean>
  /** Stored data changed: the cameras and every page follow. */
  changed: (what?: Changed) => Promise<void>
}
