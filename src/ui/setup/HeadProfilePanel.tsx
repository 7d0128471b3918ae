/** Head profiles: those that come with the application, and the venue's own, which are open JSON files. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { type HeadProfile, PROFILE_FORMAT } from '../../core/heads/profile'
import { HEAD_PROFILES } from '../../core/heads/registry'
import type { DeskView } from '../../server/api'
import { deleteHeadProfile, putHeadProfile } from '../api/client'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { chooseFile, saveFrom } from './files'
import { HeadSheet } from './HeadSheet'
import { ListCard } from './ListCard'

async function take(): Promise<void> {
  const file = await chooseFile('.json,application/json')
  if (!file) return
  if (await told(async () => putHeadProfile(await file.text()))) note('Head profile imported.')
}

/** An id and a name that nobody has. */
function copyOf(profile: HeadProfile, own: readonly HeadProfile[]): HeadProfile {
  const taken = new Set([...HEAD_PROFILES, ...own].map(({ id }) => id))
  let n = 2
  while (taken.has(`${profile.id}-${n}`)) n += 1
  return { ...profile, id: `${profile.id}-${n}`, name: `${profile.name}, ${n}` }
}

async function duplicate(profile: HeadProfile, own: readonly HeadProfile[]): Promise<void> {
  const copy = copyOf(profile, own)
  const text = JSON.stringify({ format: PROFILE_FORMAT, version: 1, ...copy })
  if (await told(() => putHeadProfile(text))) note(`Made ${copy.name}.`)
}

const about = ({ pan, lens }: HeadProfile): string => {
  const curve = lens.zoomCurve
  const times = curve[curve.length - 1]![1] / curve[0]![1]
  return `${pan.unitsPerDeg} steps in a degree, ${times.toFixed(0)}x lens`
}

export function HeadProfilePanel({ desk }: { desk: DeskView }) {
  const [edited, setEdited] = useState<HeadProfile | null>(null)
  const own = desk.headProfiles
  const keys = (profile: HeadProfile) => (
    <>
      <Key
        label="Duplicate"
        onPress={() => void duplicate(profile, own)}
        testID={`duplicate-head-${profile.id}`}
      />
      <Key label="Export" onPress={() => saveFrom(`/api/head-profiles/${profile.id}/file`)} />
    </>
  )
  return (
    <View style={styles.panel}>
      <Words size={15} tone="mist">
        A head profile describes a head and its lens: ranges, steps, speeds, the zoom. Duplicate the one that
        comes nearest to yours, and change the copy.
      </Words>
      {own.map((profile) => (
        <ListCard
          key={profile.id}
          name={profile.name}
          about={about(profile)}
          open={false}
          testID={`head-${profile.id}`}
        >
          <Key label="Edit" onPress={() => setEdited(profile)} testID={`edit-head-${profile.id}`} />
          {keys(profile)}
          <Key
            label="Delete"
            onPress={() => void told(() => deleteHeadProfile(profile.id))}
            testID={`delete-head-${profile.id}`}
          />
        </ListCard>
      ))}
      {HEAD_PROFILES.map((profile) => (
        <ListCard
          key={profile.id}
          name={profile.name}
          about={`Built in: ${about(profile)}`}
          open={false}
          testID={`head-${profile.id}`}
        >
          {keys(profile)}
        </ListCard>
      ))}
      <View style={styles.keys}>
        <Key label="Import a head profile" onPress={() => void take()} testID="take-head" />
        <Key label="JSON Schema" onPress={() => saveFrom('/api/head-profiles/schema')} />
      </View>
      {edited ? <HeadSheet profile={edited} onClose={() => setEdited(null)} /> : null}
    </View>
  )
}

const styles = StyleSheet.create({
  panel: { gap: 10 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
})
