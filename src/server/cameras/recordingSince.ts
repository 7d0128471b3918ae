/** Since when a camera records, as far as it was seen from here. */
import { RECORDING, RECORDING_SINCE, type SettingValues } from '../../core/picture/settings'

export class RecordingSince {
  private sinceMs: number | null = null
  private last: { from: SettingValues; told: SettingValues } | null = null

  /** @param wallMs the wall's clock now */
  with(values: SettingValues, wallMs: number): SettingValues {
    if (values[RECORDING] !== true) {
      this.sinceMs = null
      return values
    }
    this.sinceMs ??= Math.round(wallMs)
    if (this.last?.from !== values)
      this.last = { from: values, told: { ...values, [RECORDING_SINCE]: this.sinceMs } }
    return this.last.told
  }
}
