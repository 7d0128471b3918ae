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
import { RADIUS, TONES } from '../theme/tones'
import { chooseFile, saveFrom } from './files'

async function takeList(): Promise<void> {
  const file = await chooseFile('.csv,.json,text/csv,application/json')
  if (!file) return
  const done = await told(async () => takePresetList(await file.text()))
  if (done) note(`Taken in: ${done.added} presets added, ${done.changed} changed. Former versions are kept.`)
}

export function EventPanel({ desk }: { desk: DeskView }) {
  const [naming, setNaming] = useState<{ id: string | null; name: string } | null>(null)
  const [deleting, setDeleting] = useState<{ id: string; name: string; presets: number } | null>(null)
  const [words, setWords] = useState<string | null>(null)
  const saveName = async () => {
    if (!naming || naming.name.trim() === '') return
    const { id, name } = naming
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
      note(`${list.length} words to name presets by.`)
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
    if (done) note(`Copied ${done.copied} presets to ${from.name}.`)
  }
  return (
    <View style={styles.panel}>
      <Words size={16} weight="bold" style={styles.title}>
        {`Events at ${desk.venue.name}`}
      </Words>
      {desk.events.map((event) => {
        const open = event.id === desk.event.id
        return (
          <View key={event.id} style={[styles.event, open && styles.open]} testID={`event-${event.name}`}>
            <View style={styles.words}>
              <Words size={16} weight="semiBold">
                {event.name}
              </Words>
              <Words size={13} tone="mist">
                {`${event.presets === 1 ? '1 preset' : `${event.presets} presets`}${open ? ', open' : ''}`}
              </Words>
            </View>
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
          </View>
        )
      })}
      <View style={styles.keys}>
        <Key label="New event" onPress={() => setNaming({ id: null, name: '' })} testID="new-event" />
        <Key label="Presets as CSV" onPress={() => saveFrom('/api/presets/list.csv')} testID="presets-csv" />
        <Key
          label="Presets as JSON"
          onPress={() => saveFrom('/api/presets/list.json')}
          testID="presets-json"
        />
        <Key label="Take in presets" onPress={() => void takeList()} testID="take-presets" />
        <Key
          label="Words to name presets by"
          onPress={() => setWords(desk.event.words.join('\n'))}
          testID="event-words"
        />
      </View>
      {naming ? (
        <Sheet
          title={naming.id === null ? 'New event' : 'Rename the event'}
          maxWidth={420}
          onClose={() => setNaming(null)}
          foot={
            <Key
              label="Save"
              tone="filled"
              disabled={naming.name.trim() === ''}
              onPress={() => void saveName()}
              testID="save-event"
            />
          }
        >
          <Field
            label="Name"
            value={naming.name}
            maxLength={60}
            onChangeText={(name) => setNaming({ ...naming, name })}
            onSubmitEditing={() => void saveName()}
            testID="event-name"
          />
        </Sheet>
      ) : null}
      {words !== null ? (
        <Sheet
          title="People, places, seats"
          maxWidth={480}
          onClose={() => setWords(null)}
          foot={<Key label="Save" tone="filled" onPress={() => void saveWords()} testID="save-words" />}
        >
          <Field
            label="One on each line, or with commas between"
            value={words}
            multiline
            numberOfLines={8}
            onChangeText={setWords}
            testID="words"
          />
        </Sheet>
      ) : null}
      {deleting ? (
        <Sheet
          title={`Delete ${deleting.name}?`}
          maxWidth={420}
          onClose={() => setDeleting(null)}
          foot={
            <Key
              label="Delete for good"
              onPress={() => {
                void told(() => deleteEvent(deleting.id))
                setDeleting(null)
              }}
              testID="delete-event"
            />
          }
        >
          <Words size={15}>
            {`Its ${deleting.presets} presets are deleted and do not come back. Save the venue as a file first if they may be needed.`}
          </Words>
        </Sheet>
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  panel: { gap: 10 },
  title: { marginTop: 12 },
  event: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    gap: 8,
    padding: 10,
    paddingLeft: 14,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.marsh,
  },
  open: { borderColor: TONES.heron },
  words: { flex: 1, minWidth: 140 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
})
