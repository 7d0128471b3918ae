/** A look in the files that its cameras have of their own, so that it is there without the desk too. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import type { Part } from '../../core/cues/show'
import { BRING_FILE, KEEP_FILE } from '../../core/picture/settings'
import { countsAsOnAir } from '../../core/tally/sources'
import type { CameraView } from '../../server/api'
import { Choice } from '../basics/Choice'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Words } from '../basics/Words'
import { change, dataOf } from '../cues/edit'
import { useFact } from '../live/hooks'
import { live } from '../live/live'
import { order } from '../presets/actions'
import { ask } from '../tally/asked'

interface OwnFileProps {
  look: Part<'look'>
  /** All looks: what a file held before is in it no longer. */
  looks: readonly Part<'look'>[]
  camera: CameraView
  /** It is set as the look has it; null: not known yet. */
  stands: boolean | null
}

/** Nothing where the camera has no files of its own. */
export function OwnFile({ look, looks, camera, stands }: OwnFileProps) {
  const able = useFact('able', camera.id)
  const kept = look.cameras.find((one) => one.camera === camera.id)?.file ?? null
  const [picked, setPicked] = useState<string | null>(null)
  const keeps = able?.settings.find(({ key }) => key === KEEP_FILE)
  const brings = able?.settings.some(({ key }) => key === BRING_FILE) ?? false
  if (keeps?.kind !== 'choice') return null
  const named = (value: string) => keeps.options.find((o) => o.value === value)?.label ?? value
  const name = `${camera.number} ${camera.name}`
  const file = picked ?? kept ?? keeps.options[0]!.value
  const keep = async () => {
    if (!(await order({ t: 'setting', camera: camera.id, key: KEEP_FILE, value: file }))) return
    const cameras = look.cameras.map((one) => (one.camera === camera.id ? { ...one, file } : one))
    const done = await change('look', look, { ...dataOf<'look'>(look), cameras })
    for (const other of looks) {
      const held = (one: (typeof other.cameras)[number]) => one.camera === camera.id && one.file === file
      if (other.id === look.id || !other.cameras.some(held)) continue
      const left = other.cameras.map((one) => (held(one) ? { ...one, file: undefined } : one))
      await change('look', other, { ...dataOf<'look'>(other), cameras: left })
    }
    if (done) note(`${name} has it in ${named(file)} of its own.`)
  }
  const bring = async () => {
    if (await order({ t: 'setting', camera: camera.id, key: BRING_FILE, value: file }))
      note(`${name} is set as its ${named(file)} has it.`)
  }
  const askedFirst = () => {
    const state = live().fact('tally', camera.id)?.state
    if (state && countsAsOnAir(state))
      ask({ text: `${name} is on air: its picture would jump.`, act: () => void bring() })
    else void bring()
  }
  return (
    <View style={styles.all} testID={`own-file-${camera.number}`}>
      <Choice
        label={`${name}: its own files`}
        options={keeps.options.map(({ value, label }) => ({ value, label }))}
        value={file}
        onChange={(next) => setPicked(String(next))}
        testID={`file-${camera.number}`}
      />
      <Words size={13} tone="mist">
        {kept ? `The look is in ${named(kept)}.` : 'The look is in none of its files.'}
        {stands === false ? ' Recall the look first: a file takes what the camera is set to now.' : ''}
      </Words>
      <View style={styles.keys}>
        <Key
          label={`Keep in ${named(file)}`}
          disabled={stands !== true}
          onPress={() => void keep()}
          testID={`keep-file-${camera.number}`}
        />
        {brings ? (
          <Key
            label={`Set from ${named(file)}`}
            onPress={askedFirst}
            testID={`bring-file-${camera.number}`}
          />
        ) : null}
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  all: { gap: 6 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
})
