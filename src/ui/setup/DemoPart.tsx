/** The made-up demo venue: added and removed at any time. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import { addDemo, hasDemo, removeDemo } from '../api/client'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { DeleteSheet } from './DeleteSheet'

export function DemoPart() {
  const { data, mutate } = useSWR('demo', hasDemo)
  const [removing, setRemoving] = useState(false)
  const add = async () => {
    if (!(await told(addDemo))) return
    note('The demo has been added and opened: Osier Barn, with six stand-in cameras.')
    await mutate()
  }
  const remove = async () => {
    const done = await told(removeDemo)
    await mutate()
    return done
  }
  return (
    <View style={styles.part}>
      <Words size={16} weight="bold">
        Demo
      </Words>
      <Words size={14} tone="mist">
        A made-up barn with six stand-in cameras, to try things on. They run only while the demo is open.
      </Words>
      <View style={styles.keys}>
        {data?.present ? (
          <Key label="Remove the demo" onPress={() => setRemoving(true)} testID="remove-demo" />
        ) : (
          <Key label="Add the demo" disabled={!data} onPress={() => void add()} testID="add-demo" />
        )}
      </View>
      {removing ? (
        <DeleteSheet
          name="the demo"
          text="This removes Osier Barn with its cameras, events and presets, and everything you changed in them. You can add it again at any time."
          onDelete={remove}
          onClose={() => setRemoving(false)}
        />
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  part: { gap: 8, marginTop: 12 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
})
