/** Other devices: house lights, a mixer, a scoreboard; their messages, and whether they answered. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import type { DeviceView } from '../../core/messages/device'
import type { DeskView } from '../../server/api'
import { deleteDevice, putDevice, sendMessage } from '../api/client'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { useFact } from '../live/hooks'
import { ListCard } from '../setup/ListCard'
import { DeviceSheet } from './DeviceSheet'

export function DevicesTab({ desk }: { desk: DeskView }) {
  const [edited, setEdited] = useState<DeviceView | 'new' | null>(null)
  return (
    <View style={styles.tab}>
      <Words size={14} tone="mist">
        Messages go out over HTTP, TCP, UDP, OSC or a serial line. Cues and buttons send them by their names.
      </Words>
      {desk.devices.map((device) => (
        <DeviceCard key={device.id} device={device} onEdit={() => setEdited(device)} />
      ))}
      <Key label="New device" onPress={() => setEdited('new')} style={styles.key} testID="new-device" />
      {edited ? (
        <DeviceSheet
          key={edited === 'new' ? 'new' : edited.id}
          device={edited === 'new' ? null : edited}
          onClose={() => setEdited(null)}
        />
      ) : null}
    </View>
  )
}

function DeviceCard({ device, onEdit }: { device: DeviceView; onEdit(): void }) {
  const state = useFact('device', device.id)
  const drop = async () => {
    if (!(await told(() => deleteDevice(device.id)))) return
    const { id, hasSecret, ...data } = device
    note(`Removed “${device.name}”.${hasSecret ? ' Its secret is gone for good.' : ''}`, {
      actions: [{ label: 'Undo', act: () => void told(() => putDevice(id, data, null)) }],
    })
  }
  const about = !state
    ? 'nothing sent yet'
    : state.ok
      ? `✓ took “${state.message}”`
      : `△ “${state.message}”: ${state.text}`
  return (
    <ListCard name={device.name} about={about} open={false} testID={`device-${device.name}`}>
      {device.messages.map(({ id, name }) => (
        <Key
          key={id}
          label={name}
          onPress={() => void told(() => sendMessage(device.id, id))}
          testID={`send-${name}`}
        />
      ))}
      <Key label="Change" tone="quiet" onPress={onEdit} testID={`edit-${device.name}`} />
      <Key label="Remove" tone="quiet" onPress={() => void drop()} />
    </ListCard>
  )
}

const styles = StyleSheet.create({ tab: { gap: 10 }, key: { alignSelf: 'flex-start' } })
