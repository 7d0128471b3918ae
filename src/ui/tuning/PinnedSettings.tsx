/** The settings of a camera that stand on the Desk too. */
import { router } from 'expo-router'
import { Key } from '../basics/Key'
import { Part } from '../desk/Part'
import type { DeskCamera } from '../desk/useCamera'
import { useFact } from '../live/hooks'
import { awayOf, useTurn } from './SettingList'
import { SettingRow } from './SettingRow'
import { pinnedOf, useTuning } from './tuningState'

export function PinnedSettings({ camera }: { camera: DeskCamera }) {
  const { id } = camera.view
  const values = useFact('settings', id) ?? {}
  const pinned = useTuning((state) => pinnedOf(state, id))
  const onTurn = useTurn(id, [])
  const specs = camera.able?.settings ?? []
  const shown = specs.filter(({ key }) => pinned.includes(key))
  return (
    <Part title="Picture">
      {shown.map((spec) => (
        <SettingRow key={spec.key} {...{ spec, specs, values, onTurn }} away={awayOf(camera)} />
      ))}
      <Key label="All picture settings" onPress={() => router.push('/picture')} testID="to-picture" />
    </Part>
  )
}
