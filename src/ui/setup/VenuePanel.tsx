/** The venues: opening, naming, making, and their files. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import type { DeskView } from '../../server/api'
import {
  addVenue,
  deleteVenue,
  type Looked,
  lookAtCsv,
  lookAtVenueFile,
  openVenue,
  renameVenue,
} from '../api/client'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { BackupsPart } from './BackupsPart'
import { DeleteSheet } from './DeleteSheet'
import { DemoPart } from './DemoPart'
import { EventPanel } from './EventPanel'
import { chooseFile, saveFrom } from './files'
import { ImportSheet } from './ImportSheet'
import { ListCard } from './ListCard'
import { NameSheet, type Naming } from './NameSheet'

export function VenuePanel({ desk }: { desk: DeskView }) {
  const [naming, setNaming] = useState<Naming | null>(null)
  const [deleting, setDeleting] = useState<{ id: string; name: string } | null>(null)
  const [looked, setLooked] = useState<Looked | null>(null)
  const takeZip = async () => {
    const file = await chooseFile('.zip,application/zip')
    if (file) setLooked(await told(() => lookAtVenueFile(file)))
  }
  const takeCsv = async () => {
    const file = await chooseFile('.csv,text/csv')
    if (file) setLooked(await told(async () => lookAtCsv(await file.text())))
  }
  const saveName = async ({ id, name }: Naming) => {
    const done = await told<unknown>(() => (id === null ? addVenue(name) : renameVenue(id, name)))
    if (done) setNaming(null)
  }
  return (
    <View style={styles.panel}>
      {desk.venues.map((venue) => {
        const open = venue.id === desk.venue.id
        return (
          <ListCard
            key={venue.id}
            name={venue.name}
            about={venue.cameras === 1 ? '1 camera' : `${venue.cameras} cameras`}
            open={open}
            testID={`venue-${venue.name}`}
          >
            {open ? null : (
              <Key
                label="Open"
                tone="filled"
                onPress={() =>
                  void told(() => openVenue(venue.id)).then((ok) => ok && note(`${venue.name} is open.`))
                }
                testID={`open-${venue.name}`}
              />
            )}
            <Key label="Rename" onPress={() => setNaming({ id: venue.id, name: venue.name })} />
            <Key
              label="Export"
              onPress={() => saveFrom(`/api/venues/${venue.id}/file`)}
              testID={`save-${venue.name}`}
            />
            {open ? null : (
              <Key label="Delete" onPress={() => setDeleting(venue)} testID={`delete-${venue.name}`} />
            )}
          </ListCard>
        )
      })}
      <View style={styles.keys}>
        <Key label="New venue" onPress={() => setNaming({ id: null, name: '' })} testID="new-venue" />
        <Key label="Import a venue file" onPress={() => void takeZip()} testID="take-venue" />
      </View>
      <EventPanel desk={desk} />
      <Words size={16} weight="bold" style={styles.title}>
        {`Cameras of ${desk.venue.name} as a list`}
      </Words>
      <View style={styles.keys}>
        <Key label="Export CSV" onPress={() => saveFrom('/api/cameras/list.csv')} testID="save-csv" />
        <Key label="Import CSV" onPress={() => void takeCsv()} testID="take-csv" />
      </View>
      <BackupsPart />
      <DemoPart />
      {naming ? (
        <NameSheet
          title={naming.id === null ? 'New venue' : 'Rename the venue'}
          naming={naming}
          of="venue"
          onSave={(named) => void saveName(named)}
          onClose={() => setNaming(null)}
        />
      ) : null}
      {deleting ? (
        <DeleteSheet
          name={deleting.name}
          text="Its cameras, events and presets are deleted for good. Export it first if you may need it."
          onDelete={() => void told(() => deleteVenue(deleting.id))}
          onClose={() => setDeleting(null)}
        />
      ) : null}
      {looked ? <ImportSheet looked={looked} onClose={() => setLooked(null)} /> : null}
    </View>
  )
}

const styles = StyleSheet.create({
  panel: { gap: 10 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  title: { marginTop: 12 },
})
