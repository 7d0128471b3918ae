/** The memories of a camera's own: stored in and recalled by number, and taken in as presets. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Words } from '../basics/Words'
import { order } from '../presets/actions'
import { Part } from './Part'
import type { DeskCamera } from './useCamera'

const USUAL_LAST = 16

export function MemoryPart({ camera, onClose }: { camera: DeskCamera; onClose(): void }) {
  const { view, able, enabled } = camera
  const most = Math.min(128, able?.memories ?? 0)
  const [number, setNumber] = useState('1')
  const [first, setFirst] = useState('1')
  const [last, setLast] = useState(String(Math.min(USUAL_LAST, most)))
  const fits = (text: string) => /^\d{1,3}$/.test(text) && Number(text) >= 1 && Number(text) <= most
  const ranges = fits(first) && fits(last) && Number(first) <= Number(last)
  if (most === 0) return null
  const store = async () => {
    if (await order({ t: 'memory', camera: view.id, action: 'set', number: Number(number) }))
      note(`Stored in the camera's memory ${number}. What was in it is gone.`)
  }
  const takeIn = async () => {
    const round = { kind: 'memories' as const, from: Number(first), to: Number(last) }
    const begun = await order({ t: 'startRound', camera: view.id, round })
    if (begun) onClose()
  }
  return (
    <Part title="The camera's own memories">
      <Words size={14} tone="mist">
        {`${most} of them, kept in the camera. A preset tells by M and a number which of them holds it too.`}
      </Words>
      <View style={styles.row}>
        <Field
          label="Number"
          value={number}
          inputMode="numeric"
          onChangeText={setNumber}
          testID="memory-number"
        />
        <Key
          label="Recall"
          disabled={!enabled || !fits(number)}
          onPress={() =>
            void order({ t: 'memory', camera: view.id, action: 'recall', number: Number(number) })
          }
          testID="memory-recall"
        />
        <Key
          label="Store in it"
          disabled={!enabled || !fits(number)}
          onPress={() => void store()}
          testID="memory-set"
        />
      </View>
      <Words size={14} tone="mist">
        What is stored in them already can be taken in as presets: the camera goes to one after the other.
        Begin only while it is off air.
      </Words>
      <View style={styles.row}>
        <Field
          label="From"
          value={first}
          inputMode="numeric"
          onChangeText={setFirst}
          testID="memories-from"
        />
        <Field label="To" value={last} inputMode="numeric" onChangeText={setLast} testID="memories-to" />
        <Key
          label="Import them"
          disabled={!enabled || !ranges}
          onPress={() => void takeIn()}
          testID="take-memories"
        />
      </View>
    </Part>
  )
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'flex-end', gap: 8 },
})
