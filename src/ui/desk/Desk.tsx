/** The Desk: loading, failed, empty, or at work. */
import { lazy, Suspense, useEffect, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { NoVenue } from '../api/client'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { useDesk } from '../live/hooks'
import { live } from '../live/live'
import { TONES } from '../theme/tones'
import { CameraDesk } from './CameraDesk'
import { selectCamera, useSelection } from './selection'

// Seen once, on an empty desk.
const FirstCamera = lazy(() => import('../setup/FirstCamera'))
const FirstVenue = lazy(() => import('../setup/FirstVenue'))

export function Desk() {
  const { data, error, isLoading, mutate } = useDesk()
  const selection = useSelection()
  /** The operator is being led to their first camera; until they go on, its page stays. */
  const [leading, setLeading] = useState(false)
  const empty = data?.cameras.length === 0
  const waits = !data && !error
  useEffect(() => {
    // Removes the picture that was shown while the page was being loaded; see public/first.js.
    if (!waits) document.dispatchEvent(new Event('desk-open'))
  }, [waits])
  useEffect(() => {
    live().onSelect = selectCamera
    return () => {
      live().onSelect = () => {}
    }
  }, [])
  useEffect(() => {
    if (empty) setLeading(true)
  }, [empty])
  if (data && (empty || leading))
    return (
      <Suspense fallback={null}>
        <FirstCamera desk={data} onDone={() => setLeading(false)} />
      </Suspense>
    )
  if (data) {
    const chosen = data.cameras.find((c) => c.id === selection.primary)
    const primary = chosen ?? data.cameras.find((c) => c.enabled) ?? data.cameras[0]
    const along = data.cameras.filter(
      (c) => selection.also.includes(c.id) && c.id !== primary?.id && c.enabled,
    )
    if (primary) return <CameraDesk desk={data} view={primary} along={along} />
  }
  if (error instanceof NoVenue)
    return (
      <Suspense fallback={null}>
        <FirstVenue />
      </Suspense>
    )
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
})
