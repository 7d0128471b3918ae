/** What a preset keeps besides its pose: exposure and white balance, and a memory of the camera's own. */

import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { lightWords } from '../../core/cameras/light'
import { can } from '../../core/facts/capabilities'
import type { PresetView } from '../../server/api'
import { keepInMemory, keepLight } from '../api/client'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { useFact } from '../live/hooks'

export function PresetKeeps({ preset }: { preset: PresetView }) {
  const able = useFact('able', preset.cameraId)
  const [number, setNumber] = useState(String(preset.memory ?? preset.number))
  const memories = able?.memories ?? 0
  const fits = /^\d{1,3}$/.test(number) && Number(number) >= 1 && Number(number) <= memories
  const inMemory = async (memory: number | null) => {
    if (await told(() => keepInMemory(preset.id, memory)))
      note(memory === null ? 'It is kept here alone.' : `It is in the camera's memory ${memory} too.`)
  }
  return (
    <>
      {can(able, 'light') || preset.light ? (
        <View style={styles.row}>
          <Words size={14} tone="mist" style={styles.grow} testID="preset-light">
            {preset.light
              ? `Kept with it: ${lightWords(preset.light)}.`
              : 'Exposure and white balance are not kept.'}
          </Words>
          <Key
            label={preset.light ? 'As they are now' : 'Keep them as they are now'}
            disabled={!can(able, 'light')}
            onPress={() => void told(() => keepLight(preset.id, true))}
            testID="keep-light"
          />
          {preset.light ? (
            <Key
              label="Leave out"
              onPress={() => void told(() => keepLight(preset.id, false))}
              testID="drop-light"
            />
          ) : null}
        </View>
      ) : null}
      {memories > 0 || preset.memory !== null ? (
        <View style={styles.row}>
          <Words size={14} tone="mist" style={styles.grow} testID="preset-memory">
            {preset.memory === null
              ? "Not in the camera's own memory."
              : `In the camera's own memory ${preset.memory}${preset.pose ? ' too' : ' alone: whether it is reached cannot be seen'}.`}
          </Words>
          <Field
            label="Memory"
            value={number}
            inputMode="numeric"
            onChangeText={setNumber}
            testID="preset-memory-number"
          />
          <Key
            label="Put it there"
            disabled={!fits}
            onPress={() => void inMemory(Number(number))}
            testID="into-memory"
          />
          {preset.memory !== null && preset.pose ? (
            <Key label="Forget" onPress={() => void inMemory(null)} testID="forget-memory" />
          ) : null}
        </View>
      ) : null}
    </>
  )
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'flex-end', gap: 8 },
  // On a line of its own, so that field and keys stay together.
  grow: { flexBasis: '100%' },
})
