/** Before everything of a bumped camera is mended: how far it was turned, and what follows it. */
import { useState } from 'react'
import { type BumpFound, bumpWords, lensChanged } from '../../core/bump/bump'
import { mendedPose } from '../../core/bump/mended'
import type { CameraView } from '../../server/api'
import { mendBump } from '../api/client'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { useCamera } from '../desk/useCamera'
import { useDesk } from '../live/hooks'
import { live } from '../live/live'
import { noteMended } from './noteMended'
import { posed } from './posed'

const SHOWN = 3

export function BumpSheet({ view, found, onClose }: { view: CameraView; found: BumpFound; onClose(): void }) {
  const { data } = useDesk()
  const { profile, sight } = useCamera(view)
  const other = lensChanged(found)
  const [lensToo, setLensToo] = useState(other)
  const presets = posed((data?.presets ?? []).filter(({ cameraId }) => cameraId === view.id))
  const mend = async () => {
    const { panDeg, tiltDeg, rollDeg, larger } = found
    const done = await told(() => mendBump(view.id, { panDeg, tiltDeg, rollDeg, larger }, lensToo))
    if (!done) return
    live().seenRound(view.id)
    onClose()
    noteMended(view, done.changed)
  }
  return (
    <Sheet
      title={`Was ${view.name} bumped?`}
      maxWidth={520}
      onClose={onClose}
      foot={
        <>
          <Key label="Mend all of it" tone="filled" onPress={() => void mend()} testID="mend-bump" />
          <Key label="Leave it" onPress={onClose} />
        </>
      }
      testID="bump-sheet"
    >
      <Words size={15} testID="bump-says">
        {`What was stored now stands ${bumpWords(found)}, ± ${Math.max(0.05, 2 * found.sigmaDeg).toFixed(2)}°, as ${found.pictures} pictures agree.`}
      </Words>
      <Words size={14} tone="mist">
        Its presets, limits, survey and points of the room are turned by as much, and can be turned back as
        one. A head cannot roll: where the picture is turned, turn the camera back by hand.
      </Words>
      {other ? (
        <Toggle
          label="Zoom presets as large as they were"
          value={lensToo}
          onChange={setLensToo}
          testID="lens-too"
        />
      ) : null}
      {other ? (
        <Words size={13} tone="clay">
          △ The lens shows another size than its head profile says: let it learn its head in Setup, Cameras.
        </Words>
      ) : null}
      {presets.slice(0, SHOWN).map((preset) => {
        const now = mendedPose(preset.pose, found, profile, sight, lensToo)
        const turned = (was: number, is: number | null) => `${was.toFixed(1)}° to ${(is ?? was).toFixed(1)}°`
        return (
          <Words key={preset.id} size={14} testID={`bump-${preset.number}`}>
            {`${preset.number} ${preset.name}: pan ${turned(preset.pose.panDeg, now.panDeg)}, tilt ${turned(preset.pose.tiltDeg, now.tiltDeg)}`}
          </Words>
        )
      })}
      {presets.length > SHOWN ? (
        <Words size={13} tone="mist">{`and ${presets.length - SHOWN} more presets`}</Words>
      ) : null}
    </Sheet>
  )
}
