/** The open event's presets as a list, out and in. */
import { presetsFromText, presetsToCsv, presetsToJson } from '../../core/formats/presetList'
import { FileRefused } from '../../core/formats/venueFile'
import { listPresets, takePresets } from '../presets/presetList'
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

/** Takes a list in, CSV or JSON: all of it, or nothing. @throws FileRefused */
export function takePresetList({
  databaseUrl,
  dataFolder,
  text,
}: Omit<PresetListJob, 'kind'> & { text: string }): Promise<{ added: number; changed: number }> {
  const listed = presetsFromText(text)
  return withDatabase(databaseUrl, async (db) => {
    const desk = await readDesk(db, await SecretBox.open(dataFolder))
    if (!desk) throw new FileRefused('No event is open.')
    return takePresets(db, desk.view, listed)
  })
}
