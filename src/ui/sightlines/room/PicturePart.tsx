/** A plan or a photograph of the venue: laid under the room by two pins, or used by itself with presets placed on it. */
import { View } from 'react-native'
import type { DeskView } from '../../../server/api'
import { deletePlanPicture, putPlanPicture } from '../../api/client'
import { Choice } from '../../basics/Choice'
import { Key } from '../../basics/Key'
import { told } from '../../basics/told'
import { Words } from '../../basics/Words'
import { chooseFile } from '../../setup/files'
import type { RoomSeen } from './roomSeen'
import { spotsOf } from './SizePart'
import { tookRoom } from './useRoom'

/** What the next touch on the picture sets. */
export type Setting = { is: 'pin'; spot: string } | { is: 'preset'; preset: string } | null

interface PicturePartProps {
  desk: DeskView
  room: RoomSeen
  camera: string
  setting: Setting
  onSetting(setting: Setting): void
}

export function PicturePart({ desk, room, camera, setting, onSetting }: PicturePartProps) {
  const event = desk.event.id
  const spots = spotsOf(room, desk.cameras)
  const presets = desk.presets.filter(({ cameraId }) => cameraId === camera)
  const choose = () =>
    void told(async () => {
      const file = await chooseFile('image/jpeg,image/png')
      if (file) await tookRoom(event, await putPlanPicture(file))
    })
  if (!room.picture)
    return (
      <View style={{ gap: 8 }}>
        <Words size={14} tone="mist">
          A drawing of the hall, or a photograph of it. Presets can be placed on it by hand, without any
          survey; and where the room is known, two pins lay it under the plan.
        </Words>
        <Key label="Choose a picture" tone="filled" onPress={choose} testID="choose-plan" />
      </View>
    )
  return (
    <View style={{ gap: 8 }}>
      <Words size={14} tone="mist" testID="picture-says">
        {setting?.is === 'pin'
          ? 'Touch where this is on the picture.'
          : setting?.is === 'preset'
            ? 'Touch where this preset belongs on the picture. A touch on a placed one recalls it when nothing is chosen here.'
            : 'Choose a preset below and touch where it belongs.'}
      </Words>
      {spots.length > 1 ? (
        <Choice
          label={`Pins: ${room.pins.length} of 2. Choose what is to be pinned`}
          options={spots}
          value={setting?.is === 'pin' ? setting.spot : ''}
          onChange={(spot) => onSetting({ is: 'pin', spot })}
          testID="pin"
        />
      ) : null}
      <Choice
        label="Presets of the chosen camera"
        options={presets.map(({ id, number, name }) => ({ value: id, label: `${number} ${name}` }))}
        value={setting?.is === 'preset' ? setting.preset : ''}
        onChange={(preset) => onSetting({ is: 'preset', preset })}
        testID="place"
      />
      {setting ? <Key label="Done" onPress={() => onSetting(null)} testID="placed" /> : null}
      <View style={{ flexDirection: 'row', gap: 8 }}>
        <Key label="Another picture" onPress={choose} style={{ flex: 1 }} testID="choose-plan" />
        <Key
          label="Remove it"
          onPress={() => void told(async () => tookRoom(event, await deletePlanPicture()))}
          testID="remove-plan"
        />
      </View>
    </View>
  )
}
