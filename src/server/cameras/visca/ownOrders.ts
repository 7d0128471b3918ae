/** What a head is told beyond driving: its own commands by its profile, and the range that it keeps to. */

import type { Capabilities } from '../../../core/facts/capabilities'
import { extraBytes } from '../../../core/heads/extras'
import { degToUnits, type HeadProfile } from '../../../core/heads/profile'
import type { Bounds } from '../../../core/stick/speeds'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { DeviceOrder } from '../body'

export function subjectLevels({ extras }: HeadProfile): Capabilities['subject'] {
  const subject = extras?.subject
  return subject ? { sensitivity: subject.sensitivity.levels, size: subject.size.levels } : null
}

/** Null if the head cannot. @param u, v place in the picture, -1..1 right and up */
export function focusAtCommand({ extras }: HeadProfile, u: number, v: number): ViscaCommand | null {
  const template = extras?.focusAt
  if (!template) return null
  const percent = (share: number) => Math.round(100 * Math.min(1, Math.max(0, share)))
  return { kind: 'extra', bytes: extraBytes(template, { x: percent((1 + u) / 2), y: percent((1 - v) / 2) }) }
}

/** In the order in which they are to be sent; null if the head cannot. */
export function subjectCommands(
  { extras }: HeadProfile,
  { on, sensitivity, size }: DeviceOrder<'followSubject'>,
): ViscaCommand[] | null {
  const subject = extras?.subject
  if (!subject) return null
  const extra = (text: string, level = 1): ViscaCommand => ({
    kind: 'extra',
    bytes: extraBytes(text, { level }),
  })
  if (!on) return [extra(subject.off)]
  return [
    extra(subject.sensitivity.command, Math.min(sensitivity, subject.sensitivity.levels)),
    extra(subject.size.command, Math.min(size, subject.size.levels)),
    extra(subject.on),
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
