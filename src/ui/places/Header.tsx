/** Event, venue, places and the time of day. */
import { type ReactNode, useEffect, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'
import { Help } from '../help/Help'
import { useConnected, useFar, useGuarded } from '../live/hooks'
import { HEADER, SLIM_HEADER } from '../theme/rooms'
import { TONES } from '../theme/tones'
import { PlacesAcross } from './Places'

function useClock(): string {
  const [now, setNow] = useState(() => new Date())
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date()), 1000)
    return () => clearInterval(timer)
  }, [])
  return now.toLocaleTimeString('en-GB')
}

interface HeaderProps {
  event: string
  venue: string
  wide: boolean
  /** As low as can be. */
  slim?: boolean
  /** Keys of the place, beside the clock. */
  children?: ReactNode
}

export function Header({ event, venue, wide, slim = false, children }: HeaderProps) {
  const clock = useClock()
  const connected = useConnected()
  const guarded = useGuarded()
  const far = useFar()
  return (
    <View style={[styles.header, slim && styles.slim]} role="banner">
      <Words size={wide && !slim ? 18 : 16} weight="bold" numberOfLines={1} style={styles.event}>
        {event}
      </Words>
      {wide ? (
        <Words size={14} tone="mist" numberOfLines={1} style={styles.venue}>
          {venue}
        </Words>
      ) : null}
      {wide ? <PlacesAcross slim={slim} /> : null}
      <View style={styles.space} />
      {children}
      {connected === false ? (
        <Words
          size={14}
          weight="bold"
          tone="clay"
          numberOfLines={1}
          style={styles.lost}
          testID="disconnected"
        >
          no server
        </Words>
      ) : null}
      {far === null ? null : (
        <Words size={14} weight="bold" tone="clay" numberOfLines={1} style={styles.lost} testID="far">
          {`${far} s away`}
        </Words>
      )}
      {guarded === false ? (
        <Words size={14} weight="bold" tone="clay" numberOfLines={1} style={styles.lost} testID="unguarded">
          no guardian
        </Words>
      ) : null}
      <Help slim={slim} />
      <Words size={wide && !slim ? 18 : 16} weight="semiBold">
        {/* On a phone the event's name needs the room more. */}
        {wide ? clock : clock.slice(0, 5)}
      </Words>
    </View>
  )
}

const styles = StyleSheet.create({
  lost: { flexShrink: 0 },
  header: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 10,
    height: HEADER,
    paddingHorizontal: 12,
    backgroundColor: TONES.marsh,
    borderBottomWidth: 1,
    borderBottomColor: TONES.line,
  },
  slim: { height: SLIM_HEADER },
  event: { flexShrink: 1 },
  venue: { flexShrink: 2 },
  space: { flex: 1 },
})
