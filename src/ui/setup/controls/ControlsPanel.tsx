/** How a person drives: who it is, their devices, their keys, and the file in which these travel. */
import { useEffect, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import * as v from 'valibot'
import { Controls } from '../../../core/controls/controls'
import type { DeskView } from '../../../server/api'
import { addPerson, deletePerson, renamePerson } from '../../api/client'
import { Choice } from '../../basics/Choice'
import { Key } from '../../basics/Key'
import { fault, note } from '../../basics/notes'
import { told } from '../../basics/told'
import { Words } from '../../basics/Words'
import { changeControls, choosePerson, controlsNow, loadPersons, usePersons } from '../../input/controlsStore'
import { sources } from '../../input/deviceSources'
import { useDevices } from '../../input/devices'
import { useMe } from '../../people/me'
import { chooseFile, saveText } from '../files'
import { NameSheet, type Naming } from '../NameSheet'
import { DevicePanel } from './DevicePanel'
import { KeyPanel } from './KeyPanel'

async function takeIn(): Promise<void> {
  const file = await chooseFile('.json,application/json')
  if (!file) return
  try {
    const parsed = v.safeParse(Controls, JSON.parse(await file.text()))
    if (!parsed.success) {
      fault(`These controls cannot be imported: ${parsed.issues[0].message}`)
      return
    }
    changeControls(() => parsed.output)
    note('Controls imported.')
  } catch {
    fault('This file is damaged: it cannot be read. Nothing was changed.')
  }
}

export function ControlsPanel({ desk }: { desk: DeskView }) {
  const { persons, person } = usePersons()
  // Whoever has signed in is who they are: names are for Setup, People.
  const { data: me } = useMe()
  const signedIn = me?.signedIn ?? false
  const ids = useDevices()
  const [device, setDevice] = useState<string | null>(null)
  const [naming, setNaming] = useState<Naming | null>(null)
  useEffect(() => {
    void loadPersons()
  }, [])
  const shown = device !== null && ids.includes(device) ? device : (ids[0] ?? null)
  const saveName = async ({ id, name }: Naming) => {
    const done = await told<unknown>(() => (id === null ? addPerson(name) : renamePerson(id, name)))
    if (!done) return
    setNaming(null)
    await loadPersons()
    if (id === null) await choosePerson((done as { id: string }).id)
  }
  const midi = async () => {
    const why = await sources.openMidi()
    if (why) fault(why)
    else note('Looking for MIDI controllers. Move one of their faders.')
  }
  return (
    <View style={styles.panel}>
      {signedIn ? null : (
        <Choice
          label="Who drives here"
          options={persons.map((p) => ({ value: p.id, label: p.name }))}
          value={person?.id ?? ''}
          onChange={(id) => void choosePerson(id)}
          testID="person"
        />
      )}
      <View style={styles.row}>
        {signedIn ? null : (
          <Key label="New person" onPress={() => setNaming({ id: null, name: '' })} testID="new-person" />
        )}
        {person && !signedIn ? (
          <Key
            label="Rename"
            onPress={() => setNaming({ id: person.id, name: person.name })}
            testID="rename-person"
          />
        ) : null}
        {person && persons.length > 1 ? (
          <Key
            label="Delete"
            onPress={() => void told(() => deletePerson(person.id)).then((ok) => ok && loadPersons())}
            testID="delete-person"
          />
        ) : null}
        <Key
          label="Export"
          onPress={() =>
            saveText(`controls-${person?.name ?? 'mine'}.json`, `${JSON.stringify(controlsNow(), null, 2)}\n`)
          }
          testID="save-controls"
        />
        <Key label="Import a file" onPress={() => void takeIn()} testID="take-controls" />
      </View>
      <Words size={16} weight="bold">
        Devices
      </Words>
      {ids.length === 0 ? (
        <Words size={15} tone="mist" testID="no-devices">
          No gamepad or joystick is seen yet. Plug it in and press one of its buttons: a browser shows it only
          then.
        </Words>
      ) : null}
      {ids.length > 1 ? (
        <Choice
          label="Device"
          options={ids.map((id) => ({ value: id, label: id.replace(/\s*\(.*\)/, '') }))}
          value={shown ?? ''}
          onChange={(id) => setDevice(String(id))}
          testID="device-choice"
        />
      ) : null}
      {sources.midiThere ? (
        <Key label="Look for MIDI controllers" onPress={() => void midi()} testID="midi" style={styles.own} />
      ) : null}
      {shown ? <DevicePanel key={shown} id={shown} desk={desk} /> : null}
      <Words size={16} weight="bold">
        Keys
      </Words>
      <KeyPanel />
      {naming ? (
        <NameSheet
          title={naming.id === null ? 'New person' : 'Rename'}
          naming={naming}
          maxLength={40}
          of="person"
          onSave={(named) => void saveName(named)}
          onClose={() => setNaming(null)}
        />
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  panel: { gap: 12 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  own: { alignSelf: 'flex-start' },
})
