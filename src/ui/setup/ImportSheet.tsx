/** What a file would change, before it does. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import type { ImportMode, ModePlan } from '../../server/api'
import { applyImport, type Looked } from '../api/client'
import { Choice } from '../basics/Choice'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { told } from '../basics/told'
import { Words } from '../basics/Words'

const MODES: readonly { value: ImportMode; label: string }[] = [
  { value: 'merge', label: 'Merge: keep what the file does not mention' },
  { value: 'replace', label: 'Replace: exactly what the file says' },
]

const list = (names: readonly string[]) =>
  names.length > 6 ? `${names.slice(0, 6).join(', ')} and ${names.length - 6} more` : names.join(', ')

function lines(plan: ModePlan): string[] {
  const out: string[] = []
  if (plan.camerasAdded.length) out.push(`Adds the cameras ${list(plan.camerasAdded)}.`)
  if (plan.camerasChanged.length) out.push(`Changes the cameras ${list(plan.camerasChanged)}.`)
  if (plan.camerasRemoved.length) out.push(`Removes the cameras ${list(plan.camerasRemoved)}.`)
  if (plan.events.length) out.push(`Adds the events ${list(plan.events)}.`)
  const { presetsAdded, presetsChanged, presetsRemoved } = plan
  if (presetsAdded || presetsChanged || presetsRemoved)
    out.push(`Presets: ${presetsAdded} added, ${presetsChanged} changed, ${presetsRemoved} removed.`)
  if (plan.headProfiles.length) out.push(`Imports the head profiles ${list(plan.headProfiles)}.`)
  if (plan.devices.length) out.push(`Imports the devices ${list(plan.devices)}.`)
  if (plan.cues.length) out.push(`Imports the cues, tours and moves ${list(plan.cues)}.`)
  if (plan.surveys.length) out.push(`Imports the surveys of ${list(plan.surveys)}.`)
  if (plan.rooms.length) out.push(`Imports the room of ${list(plan.rooms)}.`)
  if (plan.tallySources.length) out.push(`Imports the tally sources ${list(plan.tallySources)}.`)
  if (plan.commandSets.length) out.push(`Imports the command sets ${list(plan.commandSets)}.`)
  return out.length > 0 ? [...out, ...plan.remarks] : ['Nothing to change: it is all here already.']
}

interface ImportSheetProps {
  looked: Looked
  /** What is offered first. */
  first?: ImportMode
  onClose(): void
}

export function ImportSheet({ looked, first = 'merge', onClose }: ImportSheetProps) {
  const [mode, setMode] = useState<ImportMode>(first)
  const [working, setWorking] = useState(false)
  const { plan } = looked
  const apply = async () => {
    setWorking(true)
    const done = await told(() => applyImport(looked.id, mode))
    setWorking(false)
    if (!done) return
    note(done.backup ? `Imported. The former state is kept in ${done.backup}.` : 'Taken in.')
    onClose()
  }
  const foot = (
    <>
      <Key
        label={working ? 'Importing…' : plan.into === null ? 'Create this venue' : 'Import'}
        tone="filled"
        disabled={working}
        onPress={() => void apply()}
        testID="apply-import"
      />
      <Key label="Cancel" onPress={onClose} />
    </>
  )
  return (
    <Sheet title={plan.name} onClose={onClose} foot={foot} testID="import-sheet">
      {plan.into === null ? (
        <Words size={15}>This venue is new. It will be created and opened.</Words>
      ) : (
        <Choice<ImportMode>
          label="How"
          options={MODES}
          value={mode}
          onChange={setMode}
          testID="import-mode"
        />
      )}
      <View style={styles.lines} testID="import-plan">
        {lines(plan[mode]).map((line) => (
          <Words key={line} size={15}>
            {line}
          </Words>
        ))}
      </View>
      <Words size={13} tone="mist">
        Passwords are in no file: enter them again for cameras that are new here. Before anything is changed,
        the venue as it is now is kept in a file of its own.
      </Words>
    </Sheet>
  )
}

const styles = StyleSheet.create({ lines: { gap: 6 } })
