/** Command sets: cameras of another kind, described in open JSON files. */
import { StyleSheet, View } from 'react-native'
import type { DeskView } from '../../server/api'
import { deleteCommandSet, putCommandSet } from '../api/client'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { chooseFile, saveFrom } from './files'
import { ListCard } from './ListCard'

const WORDS = { http: 'HTTP', tcp: 'TCP', udp: 'UDP' } as const

async function take(): Promise<void> {
  const file = await chooseFile('.json,application/json')
  if (!file) return
  if (await told(async () => putCommandSet(await file.text()))) note('Command set imported.')
}

export function CommandSetPanel({ desk }: { desk: DeskView }) {
  return (
    <View style={styles.panel}>
      <Words size={15} tone="mist">
        A command set describes a camera that takes plain HTTP, TCP or UDP commands. It is a JSON file that
        can be shared; nothing in it is executed.
      </Words>
      {desk.commandSets.map((set) => (
        <ListCard
          key={set.id}
          name={set.name}
          about={`${WORDS[set.transport]}, port ${set.port}: ${Object.keys(set.actions).length} actions`}
          open={false}
          testID={`set-${set.id}`}
        >
          <Key label="Export" onPress={() => saveFrom(`/api/command-sets/${set.id}/file`)} />
          <Key
            label="Delete"
            onPress={() => void told(() => deleteCommandSet(set.id))}
            testID={`delete-set-${set.id}`}
          />
        </ListCard>
      ))}
      <View style={styles.keys}>
        <Key label="Import a command set" onPress={() => void take()} testID="take-set" />
        <Key label="JSON Schema" onPress={() => saveFrom('/api/command-sets/schema')} />
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  panel: { gap: 10 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
})
