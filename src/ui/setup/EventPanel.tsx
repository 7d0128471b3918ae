/** The events of the open venue, and the words by which their presets are named. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import type { DeskView } from '../../server/api'
import { addEvent, changeEvent, copyPresets, deleteEvent, openEvent, takePresetList } from '../api/client'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { DeleteSheet } from './DeleteSheet'
import { chooseFile, saveFrom } from './files'
import { ListCard } from './ListCard'
import { NameSheet, type Naming } from './NameSheet'

async function takeList(): Promise<void> {
  const file = await chooseFile('.csv,.json,text/csv,application/json')
  if (!file) return
  const done = await told(async () => takePresetList(await file.text()))
  if (done) note(`Imported: ${done.added} presets added, ${done.changed} changed. Former versions are kept.`)
}

export function EventPanel({ desk }: { desk: DeskView }) {
  const [naming, setNaming] = useState<Naming | null>(null)
  const [deleting, setDeleting] = useState<{ id: string; name: string; presets: number } | null>(null)
  const [words, setWords] = useState<string | null>(null)
  const saveName = async ({ id, name }: Naming) => {
    const done = await told<unknown>(() => (id === null ? addEvent(name) : changeEvent(id, { name })))
    if (done) setNaming(null)
  }
  const saveWords = async () => {
    const list = [
      ...new Set(
        (words ?? '')
          .split(/[\n,;]/)
          .map((w) => w.trim())
          .filter(Boolean),
      ),
    ]
    if (await told(() => changeEvent(desk.event.id, { words: list }))) {
      setWords(null)
      note(`${list.length} suggested names.`)
    }
  }
  const copyHere = async (from: { id: string; name: string }) => {
    const done = await told(() =>
      copyPresets(
        desk.presets.map((p) => p.id),
        from.id,
        null,
      ),
    )
    if (done) note(`Copied ${done.ids.length} presets to ${from.name}.`)
  }
  return (
    <View style={styles.panel}>
      <Words size={16} weight="bold" style={styles.title}>
        {`Events at ${desk.venue.name}`}
      </Words>
      {desk.events.map((event) => {
        const open = event.id === desk.event.id
        return (
          <ListCard
            key={event.id}
            name={event.name}
            about={event.presets === 1 ? '1 preset' : `${event.presets} presets`}
            open={open}
            testID={`event-${event.name}`}
          >
            {open ? null : (
              <>
                <Key
                  label="Open"
                  tone="filled"
                  onPress={() =>
                    void told(() => openEvent(event.id)).then((ok) => ok && note(`${event.name} is open.`))
                  }
                  testID={`open-event-${event.name}`}
                />
                <Key
                  label="Copy the open one's presets here"
                  onPress={() => void copyHere(event)}
                  testID={`copy-into-${event.name}`}
                />
              </>
            )}
            <Key label="Rename" onPress={() => setNaming({ id: event.id, name: event.name })} />
            {open ? null : (
              <Key label="Delete" onPress={() => setDeleting(event)} testID={`delete-event-${event.name}`} />
            )}
          </ListCard>
        )
      })}
      <View style={styles.keys}>
        <Key label="New event" onPress={() => setNaming({ id: null, name: '' })} testID="new-event" />
        <Key
          label="Export presets as CSV"
          onPress={() => saveFrom('/api/presets/list.csv')}
          testID="presets-csv"
        />
        <Key
          label="Export presets as JSON"
          onPress={() => saveFrom('/api/presets/list.json')}
          testID="presets-json"
        />
        <Key label="Import presets" onPress={() => void takeList()} testID="take-presets" />
        <Key
          label="Suggested preset names"
          onPress={() => setWords(desk.event.words.join('\n'))}
          testID="event-words"
        />
      </View>
      {naming ? (
        <NameSheet
          title={naming.id === null ? 'New event' : 'Rename the event'}
          naming={naming}
          of="event"
          onSave={(named) => void saveName(named)}
          onClose={() => setNaming(null)}
        />
      ) : null}
      {words !== null ? (
        <Sheet
          title="People, places, seats"
          maxWidth={480}
          onClose={() => setWords(null)}
          foot={<Key label="Save" tone="filled" onPress={() => void saveWords()} testID="save-words" />}
        >
          <Field
            label="One per line, or separated by commas"
            value={words}
            multiline
            numberOfLines={8}
            onChangeText={setWords}
            testID="words"
          />
        </Sheet>
      ) : null}
      {deleting ? (
        <DeleteSheet
          name={deleting.name}
          text={`Its ${deleting.presets} presets are deleted for good. Export the venue first if you may need them.`}
          onDelete={() => void told(() => deleteEvent(deleting.id))}
          onClose={() => setDeleting(null)}
        />
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  panel: { gap: 10 },
  title: { marginTop: 12 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
})
