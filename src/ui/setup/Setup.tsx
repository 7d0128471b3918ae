/** Setup: cameras, controls, venues, heads, command sets. */
import { useState } from 'react'
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native'
import { NoVenue } from '../api/client'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { Notes } from '../basics/Notes'
import { Words } from '../basics/Words'
import { useDesk } from '../live/hooks'
import { JournalPanel } from '../people/JournalPanel'
import { useMe } from '../people/me'
import { PasskeysPart } from '../people/PasskeysPart'
import { PeoplePanel } from '../people/PeoplePanel'
import { SignedIn } from '../people/SignedIn'
import { Header } from '../places/Header'
import { PlacesBelow } from '../places/Places'
import { useAtDesk } from '../places/useAtDesk'
import { TONES, WIDE_FROM } from '../theme/tones'
import { CameraList } from './CameraList'
import { CommandSetPanel } from './CommandSetPanel'
import { ControlsPanel } from './controls/ControlsPanel'
import FirstVenue from './FirstVenue'
import { HeadProfilePanel } from './HeadProfilePanel'
import { RemotePanel } from './RemotePanel'
import { TallyPanel } from './tally/TallyPanel'
import { VenuePanel } from './VenuePanel'

const PARTS = [
  { name: 'Cameras', right: 'setup' },
  { name: 'Controls', right: 'see' },
  { name: 'Tally', right: 'setup' },
  { name: 'People', right: 'people' },
  { name: 'Log', right: 'people' },
  { name: 'Remote', right: 'people' },
  { name: 'Venues', right: 'setup' },
  { name: 'Heads', right: 'setup' },
  { name: 'Command sets', right: 'setup' },
] as const
type PartName = (typeof PARTS)[number]['name']

export default function Setup() {
  const { data, error, isLoading, mutate } = useDesk()
  const wide = useWindowDimensions().width >= WIDE_FROM
  const { data: me } = useMe()
  const parts = PARTS.filter(({ right }) => me?.rights.includes(right) ?? true)
  const [chosen, setPart] = useState<PartName>('Cameras')
  const part = parts.some(({ name }) => name === chosen) ? chosen : parts[0]?.name
  useAtDesk()
  if (error instanceof NoVenue) return <FirstVenue />
  return (
    <View style={styles.page}>
      <Header event={data?.event.name ?? ''} venue={data?.venue.name ?? ''} wide={wide} />
      <View style={styles.parts}>
        {parts.map(({ name }) => (
          <Key
            key={name}
            label={name}
            on={name === part}
            onPress={() => setPart(name)}
            testID={`part-${name}`}
          />
        ))}
      </View>
      <ScrollView style={styles.scroll} contentContainerStyle={styles.body}>
        {!data && error && !isLoading ? (
          <>
            <Advice title="Setup cannot be opened" text={error.message} />
            <Key label="Try again" tone="filled" onPress={() => void mutate()} />
          </>
        ) : null}
        {!data && !error ? <Words tone="mist">Opening Setup…</Words> : null}
        {part === 'Controls' || part === 'People' ? <SignedIn /> : null}
        {part === 'Controls' ? <PasskeysPart /> : null}
        {data && part === 'Cameras' ? <CameraList desk={data} /> : null}
        {data && part === 'Venues' ? <VenuePanel desk={data} /> : null}
        {data && part === 'Controls' ? <ControlsPanel desk={data} /> : null}
        {data && part === 'Tally' ? <TallyPanel desk={data} /> : null}
        {data && part === 'Remote' ? <RemotePanel /> : null}
        {data && part === 'People' ? <PeoplePanel desk={data} /> : null}
        {data && part === 'Log' ? <JournalPanel /> : null}
        {data && part === 'Heads' ? <HeadProfilePanel desk={data} /> : null}
        {data && part === 'Command sets' ? <CommandSetPanel desk={data} /> : null}
      </ScrollView>
      <View style={styles.notes}>
        <Notes />
      </View>
      {wide ? null : <PlacesBelow />}
    </View>
  )
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: TONES.ink, minHeight: 0 },
  parts: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, padding: 12, paddingBottom: 0, maxWidth: 900 },
  scroll: { flex: 1 },
  body: { padding: 12, paddingBottom: 80, gap: 10, width: '100%', maxWidth: 900 },
  notes: { position: 'relative' },
})
