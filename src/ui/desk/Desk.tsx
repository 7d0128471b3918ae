/** The Desk: loading, failed, empty, or at work. */
import { StyleSheet, View } from 'react-native'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { useDesk } from '../live/hooks'
import { TONES } from '../theme/tones'
import { CameraDesk } from './CameraDesk'

export function Desk() {
  const { data, error, isLoading, mutate } = useDesk()
  if (data) {
    const [first] = data.cameras
    if (first) return <CameraDesk desk={data} view={first} />
    return (
      <View style={styles.page}>
        <Words size={20} weight="bold">
          No cameras yet
        </Words>
        <Words size={15} tone="mist" style={styles.centred}>
          {`${data.venue.name} has no cameras. Start with "npm start -- --fresh" to load the demo.`}
        </Words>
      </View>
    )
  }
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
  advice: { maxWidth: 420 },
  centred: { textAlign: 'center', maxWidth: 420 },
})
