/** The picture settings of a camera that is described by a command set. */
import type { CommandRequest, CommandSet, CommandSetting } from '../../../core/commands/commandSet'
import type { Values } from '../../../core/commands/template'
import type { SettingSpec, SettingValue, SettingValues } from '../../../core/picture/settings'
import { CANNOT, type CameraResult, DONE } from '../camera'
import { NewestWins } from '../newestWins'

export interface SettingsHost {
  readonly set: CommandSet
  request(request: CommandRequest, values: Values): Promise<unknown>
  changed(): void
}

function specOf(setting: CommandSetting): SettingSpec {
  const { key, label, group, needs, usual, restarts } = setting
  const shared = { key, label, group, needs, usual, restarts, told: setting.read !== undefined }
  if (setting.kind === 'range') {
    const { min, max, step, unit, marks } = setting
    return { kind: 'range', ...shared, min, max, step, unit, marks }
  }
  return setting.kind === 'choice'
    ? { kind: 'choice', ...shared, options: setting.options }
    : { kind: setting.kind, ...shared }
}

function told(setting: CommandSetting, text: string): SettingValue | null {
  if (setting.kind === 'switch') return text === setting.on ? true : text === setting.off ? false : null
  if (setting.kind === 'range') return Number.isFinite(Number(text)) ? Number(text) : null
  return setting.kind === 'choice' && setting.options.some(({ value }) => value === text) ? text : null
}

export class CommandSettings {
  readonly specs: readonly SettingSpec[]
  values: SettingValues = {}
  private readonly onTheWay = new NewestWins()

  constructor(private readonly host: SettingsHost) {
    this.specs = host.set.settings.map(specOf)
  }

  /** Settles when the device has taken this value, or a newer one of the same setting. */
  order(key: string, value: SettingValue): Promise<CameraResult> {
    const setting = this.host.set.settings.find((s) => s.key === key)
    if (!setting) return Promise.resolve(CANNOT('change this setting'))
    return this.onTheWay.set(key, value, (newest) => this.send(setting, newest))
  }

  /** @param read what the answers to the set's questions told, by name */
  take(read: Record<string, string>): void {
    const next = { ...this.values }
    for (const setting of this.host.set.settings) {
      const text = setting.read === undefined ? undefined : read[setting.read]
      const value = text === undefined || this.onTheWay.has(setting.key) ? null : told(setting, text)
      if (value !== null) next[setting.key] = value
    }
    this.keep(next)
  }

  private async send(setting: CommandSetting, value: SettingValue): Promise<CameraResult> {
    const words = setting.kind === 'switch' ? (value ? setting.on : setting.off) : value
    try {
      await this.host.request(setting.set, { value: words as string | number })
    } catch (error) {
      return { ok: false, message: (error as Error).message }
    }
    if (setting.kind !== 'act') this.keep({ ...this.values, [setting.key]: value })
    return DONE
  }

  private keep(values: SettingValues): void {
    if (JSON.stringify(values) === JSON.stringify(this.values)) return
    this.values = values
    this.host.changed()
  }
}
