/** The settings of a camera in one of their groups. */
import { StyleSheet, View } from 'react-native'
import {
  BRING_FILE,
  KEEP_FILE,
  RECORDING,
  type SettingGroup,
  type SettingSpec,
} from '../../core/picture/settings'
import type { CameraView } from '../../server/api'
import { Words } from '../basics/Words'
import type { DeskCamera } from '../desk/useCamera'
import { useFact } from '../live/hooks'
import { SettingRow } from './SettingRow'
import { pinnedOf, type Tab, togglePin, useTuning } from './tuningState'
import { turn } from './turning'

export const GROUPS: Record<Exclude<Tab, 'Looks'>, readonly SettingGroup[]> = {
  Exposure: ['exposure'],
  White: ['whiteBalance'],
  Detail: ['detail', 'lens'],
  Image: ['image'],
}

export function useTurn(camera: string, along: readonly CameraView[]) {
  const how = useTuning((state) => state.along)
  const others = along.map(({ id }) => id)
  return (spec: Parameters<typeof turn>[1], value: Parameters<typeof turn>[2]) =>
    turn(camera, spec, value, others, how)
}

/** Why nothing can be set now; null if it can. */
export function awayOf({ enabled, view, health }: DeskCamera): string | null {
  if (!view.enabled) return 'switched off in Setup'
  if (enabled) return null
  return health?.state === 'standby' ? 'in standby' : 'no answer'
}

/** Recording has its own key, and files belong to looks. */
const ELSEWHERE = [RECORDING, KEEP_FILE, BRING_FILE]

export function SettingList({
  camera,
  along,
  tab,
}: {
  camera: DeskCamera
  along: readonly CameraView[]
  tab: Exclude<Tab, 'Looks'>
}) {
  const { id, name } = camera.view
  const values = useFact('settings', id) ?? {}
  const tuning = useTuning()
  const specs = camera.able?.settings ?? []
  const needed = new Set(specs.flatMap(({ needs }) => needs.map(({ key }) => key)))
  // A mode first, then what it takes, then what the head has of its own.
  const place = (spec: SettingSpec) =>
    spec.kind === 'choice' && needed.has(spec.key) ? 0 : spec.needs.length > 0 || needed.has(spec.key) ? 1 : 2
  const shown = specs
    .filter(({ group, key }) => GROUPS[tab].includes(group) && !ELSEWHERE.includes(key))
    .sort((a, b) => place(a) - place(b))
  const onTurn = useTurn(id, along)
  const pinned = pinnedOf(tuning, id)
  if (shown.length === 0)
    return (
      <Words tone="mist" style={styles.none}>
        {camera.able
          ? `${name} tells nothing of this that could be set from here. Its head profile may add it: see Setup, Heads.`
          : `${name} has not told yet what can be set.`}
      </Words>
    )
  return (
    <View style={styles.list}>
      {shown.map((spec) => (
        <SettingRow
          key={`${id} ${spec.key}`}
          {...{ spec, specs, values }}
          away={awayOf(camera)}
          onTurn={onTurn}
          pinned={pinned.includes(spec.key)}
          onPin={(key) => togglePin(id, key)}
        />
      ))}
    </View>
  )
}

const styles = StyleSheet.create({
  list: { gap: 8 },
  none: { padding: 16 },
})
