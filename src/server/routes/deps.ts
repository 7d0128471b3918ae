/** What all routes share. */

import type { Pace } from '../../core/presets/pace'
import type { CameraResult } from '../cameras/camera'
import type { Finder } from '../finding/finder'
import type { Fleet } from '../fleet'
import type { Jobs } from '../jobs/jobs'
import type { LoopDelay } from '../loopWatch'
import type { Rounds } from '../presets/rounds'
import type { Catalogue } from '../store/catalogue'
import type { Database } from '../store/database'
import type { DemoSource } from '../store/demo'
import type { SecretBox } from '../store/secrets'
import type { Imports } from '../venues/imports'

export interface Deps {
  db: Database
  secrets: SecretBox
  catalogue: Catalogue
  fleet: () => Fleet
  finder: Finder
  imports: Imports
  rounds: Rounds
  /** Who drives a camera, by name; null where nobody does. */
  driverOf(cameraId: string): string | null
  /** @param pace null: the preset's own, or its camera's */
  recall(presetId: string, pace: Pace | null): Promise<CameraResult>
  jobs: Jobs
  databaseUrl: string
  dataFolder: string
  demo: DemoSource
  /** How late the loop runs. */
  loopDelay(): LoopDelay
  /** Does the guardian watch? */
  guarded(): boolean
  databaseAnswers: () => Promise<boolean>
  /** Stored data changed: the cameras and every page follow. */
  changed: () => Promise<void>
}
