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
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'
import { EventPanel } from './EventPanel'
import { chooseFile, saveFrom } from './files'
import { ImportSheet } from './ImportSheet'

type Naming = { id: string | null; name: string }

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
        const count = venue.cameras === 1 ? '1 camera' : `${venue.cameras} cameras`
        return (
          <View key={venue.id} style={[styles.venue, open && styles.open]} testID={`venue-${venue.name}`}>
            <View style={styles.words}>
              <Words size={16} weight="semiBold">
                {venue.name}
              </Words>
              <Words size={13} tone="mist">
                {open ? `${count}, open` : count}
              </Words>
            </View>
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
              label="Save as a file"
              onPress={() => saveFrom(`/api/venues/${venue.id}/file`)}
              testID={`save-${venue.name}`}
            />
            {open ? null : (
              <Key label="Delete" onPress={() => setDeleting(venue)} testID={`delete-${venue.name}`} />
            )}
          </View>
        )
      })}
      <View style={styles.keys}>
        <Key label="New venue" onPress={() => setNaming({ id: null, name: '' })} testID="new-venue" />
        <Key label="Take in a venue file" onPress={() => void takeZip()} testID="take-venue" />
      </View>
      <EventPanel desk={desk} />
      <Words size={16} weight="bold" style={styles.title}>
        {`Cameras of ${desk.venue.name} as a list`}
      </Words>
      <View style={styles.keys}>
        <Key label="Save as CSV" onPress={() => saveFrom('/api/cameras/list.csv')} testID="save-csv" />
        <Key label="Take in a CSV" onPress={() => void takeCsv()} testID="take-csv" />
      </View>
      {naming ? (
        <Sheet
          title={naming.id === null ? 'New venue' : 'Rename the venue'}
          maxWidth={420}
          onClose={() => setNaming(null)}
          testID="venue-sheet"
          foot={
            <Key
              label="Save"
              tone="filled"
              disabled={naming.name.trim() === ''}
              onPress={() => void saveName(naming)}
              testID="save-venue-name"
            />
          }
        >
          <Field
            label="Name"
            value={naming.name}
            maxLength={60}
            onChangeText={(name) => setNaming({ ...naming, name })}
            onSubmitEditing={() => void saveName(naming)}
            testID="venue-name"
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
                void told(() => deleteVenue(deleting.id))
                setDeleting(null)
              }}
              testID="delete-for-good"
            />
          }
        >
          <Words size={15}>
            Its cameras, events and presets are deleted and do not come back. Save it as a file first if it
            may be needed.
          </Words>
        </Sheet>
      ) : null}
      {looked ? <ImportSheet looked={looked} onClose={() => setLooked(null)} /> : null}
    </View>
  )
}

const styles = StyleSheet.create({
  panel: { gap: 10 },
  venue: {
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
  title: { marginTop: 12 },
})
