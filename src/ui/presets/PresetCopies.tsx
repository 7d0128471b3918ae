/** Copies of a preset, or of all of its camera, in another event or at another camera of the same head. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { aimed } from '../../core/presets/pose'
import type { DeskView, PresetView } from '../../server/api'
import { copyPresets, deletePreset } from '../api/client'
import { Choice } from '../basics/Choice'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { told } from '../basics/told'

export function PresetCopies({ desk, preset }: { desk: DeskView; preset: PresetView }) {
  const [what, setWhat] = useState<'one' | 'all'>('one')
  const own = desk.cameras.find((c) => c.id === preset.cameraId)
  const events = desk.events.filter((e) => e.id !== desk.event.id)
  // A pose means the same on the same head only.
  const cameras = desk.cameras.filter((c) => c.id !== own?.id && c.headProfile === own?.headProfile)
  if (events.length + cameras.length === 0) return null
  const all = desk.presets.filter((p) => p.cameraId === preset.cameraId).map((p) => p.id)
  const copy = async (to: string, eventId: string, cameraId: string | null) => {
    const done = await told(() => copyPresets(what === 'one' ? [preset.id] : all, eventId, cameraId))
    if (!done) return
    const count = done.ids.length === 1 ? '1 preset' : `${done.ids.length} presets`
    note(`Copied ${count} to ${to}.`, {
      actions: [
        {
          label: 'Undo',
          act: () => void told(() => Promise.all(done.ids.map((id) => deletePreset(id)))),
        },
      ],
    })
  }
  const at = aimed(preset.pose)
  return (
    <View style={styles.copies}>
      <Choice<'one' | 'all'>
        label={`Copies${at ? `, at pan ${at.panDeg.toFixed(1)}° and tilt ${at.tiltDeg.toFixed(1)}° there too` : ''}`}
        options={[
          { value: 'one', label: 'Of this one' },
          { value: 'all', label: `Of all ${all.length} of ${own?.name ?? 'its camera'}` },
        ]}
        value={what}
        onChange={setWhat}
        testID="copies"
      />
      <View style={styles.row}>
        {cameras.map((c) => (
          <Key
            key={c.id}
            label={`To ${c.number} ${c.name}`}
            onPress={() => void copy(c.name, desk.event.id, c.id)}
            testID={`copy-to-camera-${c.number}`}
          />
        ))}
        {events.map((e) => (
          <Key
            key={e.id}
            label={`To ${e.name}`}
            onPress={() => void copy(e.name, e.id, null)}
            testID={`copy-to-${e.name}`}
          />
        ))}
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  copies: { gap: 6 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
})
