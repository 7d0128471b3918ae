/** How the presets of a camera travel, and what is stored with them. */
import { can, isBlind } from '../../core/facts/capabilities'
import { type Habits, setHabits } from '../api/client'
import { Choice } from '../basics/Choice'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { setWithLight, useBoardState } from '../presets/boardState'
import { PACE_OPTIONS, paceFor, paceValue } from '../presets/paces'
import { Part } from './Part'
import type { DeskCamera } from './useCamera'

export function HabitsPart({ camera: { view, able } }: { camera: DeskCamera }) {
  const { withLight } = useBoardState()
  const set = (habits: Habits) => void told(() => setHabits(view.id, habits))
  return (
    <Part title="Presets of this camera">
      <Choice
        label="Default pace"
        options={PACE_OPTIONS}
        value={paceValue(view.pace, 'quick')}
        onChange={(value) => set({ pace: paceFor(value) })}
        testID="camera-pace"
      />
      {can(able, 'freeze') || view.holdPicture ? (
        <Toggle
          label="Hold its picture while it moves"
          value={view.holdPicture}
          onChange={(holdPicture) => set({ holdPicture })}
          testID="hold-picture"
        />
      ) : null}
      {can(able, 'keepOnLeash') || view.leash ? (
        <Toggle
          label="Drive on a leash: short moves that end by themselves, for a link that loses packets"
          value={view.leash}
          onChange={(leash) => set({ leash })}
          testID="leash"
        />
      ) : null}
      {can(able, 'light') ? (
        <Toggle
          label="Also store exposure and white balance, on all cameras"
          value={withLight}
          onChange={setWithLight}
          testID="with-light"
        />
      ) : null}
      {(able?.memories ?? 0) > 0 && able && !isBlind(able) ? (
        <Toggle
          label="Also store new presets in the camera's own memory"
          value={view.alsoInMemory}
          onChange={(alsoInMemory) => set({ alsoInMemory })}
          testID="also-in-memory"
        />
      ) : null}
    </Part>
  )
}
