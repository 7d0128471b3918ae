/** Backups of this installation: where they lie, and how a venue is written. */
import { join } from 'node:path'
import type { Jobs } from '../jobs/jobs'
import type { Catalogue } from '../store/catalogue'
import { Backups } from './backups'
import type { Imports } from './imports'
import { venueSchema } from './schemas'

interface BackupsNeeds {
  dataFolder: string
  databaseUrl: string
  jobs: Jobs
  imports: Imports
  catalogue: Catalogue
}

export function openBackups({ dataFolder, databaseUrl, jobs, imports, catalogue }: BackupsNeeds): Backups {
  const backups = new Backups({
    folder: join(dataFolder, 'backups'),
    async write(venueId, path) {
      const job = { databaseUrl, venueId, schema: venueSchema(), path }
      return (await jobs.run('exportVenueFile', job)) !== null
    },
    imports,
    open: () => catalogue.current?.view.venue ?? null,
    nowMs: () => Date.now(),
  })
  backups.start()
  return backups
}
