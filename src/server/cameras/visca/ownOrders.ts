/** What a head is told beyond driving: its own commands by its profile, and the range that it keeps to. */

import type { Capabilities } from '../../../core/facts/capabilities'
import { controlOf, setBytes, templateBytes } from '../../../core/heads/namedControls'
import { degToUnits, type HeadProfile } from '../../../core/heads/profile'
import type { Bounds } from '../../../core/stick/speeds'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { DeviceOrder } from '../body'

const own = (bytes: readonly number[]): ViscaCommand => ({ kind: 'extra', bytes })

export function subjectLevels({ controls }: HeadProfile): Capabilities['subject'] {
  if (!controlOf(controls, 'subject', 'switch')) return null
  const levels = (key: string) => controlOf(controls, key, 'range')?.max ?? 1
  return { sensitivity: levels('subjectSensitivity'), size: levels('subjectSize') }
}

/** Null if the head cannot. @param u, v place in the picture, -1..1 right and up */
export function focusAtCommand({ controls }: HeadProfile, u: number, v: number): ViscaCommand | null {
  const control = controlOf(controls, 'focusAt', 'act')
  if (!control) return null
  const percent = (share: number) => Math.round(100 * Math.min(1, Math.max(0, share)))
  return own(templateBytes(control.command, { x: percent((1 + u) / 2), y: percent((1 - v) / 2) }))
}

/** In the order in which they are to be sent; null if the head cannot. */
export function subjectCommands(
  { controls }: HeadProfile,
  { on, sensitivity, size }: DeviceOrder<'followSubject'>,
): ViscaCommand[] | null {
  const subject = controlOf(controls, 'subject', 'switch')
  if (!subject) return null
  const level = (key: string, value: number) => {
    const control = controlOf(controls, key, 'range')
    return control ? [own(setBytes(control, Math.min(value, control.max)))] : []
  }
  if (!on) return [own(setBytes(subject, false))]
  return [
    ...level('subjectSensitivity', sensitivity),
    ...level('subjectSize', size),
    own(setBytes(subject, true)),
  ]
}

export function limitCommands(profile: HeadProfile, bounds: Bounds, limited: boolean): ViscaCommand[] {
  const corners = [
    ['upRight', bounds.pan.max, bounds.tilt.max],
    ['downLeft', bounds.pan.min, bounds.tilt.min],
  ] as const
  return corners.map(([corner, pan, tilt]) => {
    const at = { pan: degToUnits(profile.pan, pan), tilt: degToUnits(profile.tilt, tilt) }
    return limited ? { kind: 'limitSet', corner, ...at } : { kind: 'limitClear', corner }
  })
}
