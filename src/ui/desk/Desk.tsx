/** The Desk: loading, failed, empty, or at work. */
import { Link } from 'expo-router'
import { StyleSheet, useWindowDimensions, View } from 'react-native'
import type { DeskView } from '../../server/api'
import { NoVenue } from '../api/client'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { useDesk } from '../live/hooks'
import { Header } from '../places/Header'
import { PlacesBelow } from '../places/Places'
import { FirstVenue } from '../setup/FirstVenue'
import { RADIUS, TONES, WIDE_FROM } from '../theme/tones'
import { CameraDesk } from './CameraDesk'
import { useSelection } from './selection'

function NoCameras({ desk }: { desk: DeskView }) {
  const wide = useWindowDimensions().width >= WIDE_FROM
  return (
    <View style={styles.whole}>
      <Header event={desk.event.name} venue={desk.venue.name} wide={wide} />
      <View style={styles.page}>
        <Words size={20} weight="bold">
          No cameras yet
        </Words>
        <Words size={15} tone="mist" style={styles.centred}>
          {`${desk.venue.name} has no cameras. Find those of this network, or add one by its address.`}
        </Words>
        <Link href="/setup" style={styles.link}>
          <Words size={16} weight="semiBold" tone="heron">
            Go to Setup
          </Words>
        </Link>
      </View>
      {wide ? null : <PlacesBelow />}
    </View>
  )
}

export function Desk() {
  const { data, error, isLoading, mutate } = useDesk()
  const selection = useSelection()
  if (data) {
    const chosen = data.cameras.find((c) => c.id === selection.primary)
    const primary = chosen ?? data.cameras.find((c) => c.enabled) ?? data.cameras[0]
    const along = data.cameras.filter(
      (c) => selection.also.includes(c.id) && c.id !== primary?.id && c.enabled,
    )
    if (primary) return <CameraDesk desk={data} view={primary} along={along} />
    return <NoCameras desk={data} />
  }
  if (error instanceof NoVenue) return <FirstVenue />
  return (
    <View style={styles.page}>
      {error && !isLoading ? (
        <>
          <Advice title="The Desk cannot be opened" text={error.message} style={styles.advice} />
          <Key label="Try again" tone="filled" onPress={() => void mutate()} />
        </>
      ) : (
        <Words size={16} tone="mist">
          Opening the Desk…
        </Words>
      )}
    </View>
  )
}

const styles = StyleSheet.create({
  page: {
    flex: 1,
    backgroundColor: TONES.ink,
    alignItems: 'center',
    justifyContent: 'center',
    gap: 16,
    padding: 24,
  },
  whole: { flex: 1, backgroundColor: TONES.ink },
  link: {
    padding: 14,
    borderRadius: RADIUS.large,
    borderWidth: 1,
    borderColor: TONES.heron,
    backgroundColor: TONES.heronFilled,
  },
  advice: { maxWidth: 420 },
  centred: { textAlign: 'center', maxWidth: 420 },
})
