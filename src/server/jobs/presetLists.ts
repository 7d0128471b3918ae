/** The open event's presets as a list for a file. */
import { presetsToCsv, presetsToJson } from '../../core/formats/presetList'
import { listPresets } from '../presets/presetList'
import { readDesk } from '../store/catalogue'
import { withDatabase } from '../store/database'
import { SecretBox } from '../store/secrets'

export interface PresetListJob {
  databaseUrl: string
  dataFolder: string
  kind: 'csv' | 'json'
}

/** @returns an empty list where no event is open */
export function presetListFile({ databaseUrl, dataFolder, kind }: PresetListJob): Promise<string> {
  return withDatabase(databaseUrl, async (db) => {
    const desk = await readDesk(db, await SecretBox.open(dataFolder))
    const presets = desk ? listPresets(desk.view) : []
    return kind === 'csv' ? presetsToCsv(presets) : presetsToJson(presets)
  })
}
