/** When there is nothing yet: create a venue, or import one. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { addDemo, addVenue, type Looked, lookAtVenueFile } from '../api/client'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Notes } from '../basics/Notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { TONES } from '../theme/tones'
import { chooseFile } from './files'
import { ImportSheet } from './ImportSheet'

export default function FirstVenue() {
  const [name, setName] = useState('')
  const [looked, setLooked] = useState<Looked | null>(null)
  const take = async () => {
    const file = await chooseFile('.zip,application/zip')
    if (file) setLooked(await told(() => lookAtVenueFile(file)))
  }
  return (
    <View style={styles.page}>
      <View style={styles.box}>
        <Words size={20} weight="bold">
          Where are your cameras?
        </Words>
        <Words size={15} tone="mist">
          A venue is a place with its cameras. Give it a name, or import a venue file.
        </Words>
        <Field
          label="Name of the venue"
          value={name}
          maxLength={60}
          onChangeText={setName}
          testID="venue-name"
        />
        <Key
          label="Create"
          tone="filled"
          disabled={name.trim() === ''}
          onPress={() => void told(() => addVenue(name))}
          testID="make-venue"
        />
        <Key label="Import a venue file" onPress={() => void take()} />
        <Key label="Look at the demo first" onPress={() => void told(addDemo)} testID="add-demo" />
      </View>
      <Notes />
      {looked ? <ImportSheet looked={looked} onClose={() => setLooked(null)} /> : null}
    </View>
  )
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: TONES.ink, alignItems: 'center', justifyContent: 'center', padding: 20 },
  box: { width: '100%', maxWidth: 380, gap: 12 },
})
