/** The places of the application: in the header on a wide screen, along the bottom on a phone. */
import { Link, usePathname } from 'expo-router'
import House from 'lucide-react-native/icons/house'
import Joystick from 'lucide-react-native/icons/joystick'
import ListOrdered from 'lucide-react-native/icons/list-ordered'
import MapIcon from 'lucide-react-native/icons/map'
import SlidersVertical from 'lucide-react-native/icons/sliders-vertical'
import { StyleSheet, View } from 'react-native'
import type { Right } from '../../core/people/rights'
import { Words } from '../basics/Words'
import { useEverywhere, useMe } from '../people/me'
import { PLACES_BELOW, PLACES_BESIDE } from '../theme/rooms'
import { RADIUS, TONES, TOUCH } from '../theme/tones'

/** The five places, with the right that each is for. */
const PLACES = [
  { path: '/', name: 'Desk', Icon: Joystick, right: 'see' },
  { path: '/sightlines', name: 'Sightlines', Icon: MapIcon, right: 'see' },
  { path: '/cues', name: 'Cues', Icon: ListOrdered, right: 'cues' },
  { path: '/picture', name: 'Picture', Icon: SlidersVertical, right: 'picture' },
  { path: '/setup', name: 'Setup', Icon: House, right: 'see' },
] as const satisfies readonly { path: string; name: string; Icon: unknown; right: Right }[]

function usePlaces() {
  const { data: me } = useMe()
  const everywhere = useEverywhere()
  return PLACES.filter(
    ({ path, right }) => (me?.rights.includes(right) ?? true) && (everywhere || path !== '/cues'),
  )
}

export function PlacesAcross({ slim }: { slim: boolean }) {
  const path = usePathname()
  const places = usePlaces()
  return (
    <View style={styles.across} role="navigation">
      {places.map(({ path: to, name }) => (
        <Link key={to} href={to} style={styles.link} aria-current={path === to ? 'page' : undefined}>
          <View style={[styles.place, slim && styles.slim, path === to && styles.here]}>
            <Words size={15} weight="semiBold" tone={path === to ? 'sand' : 'mist'}>
              {name}
            </Words>
          </View>
        </Link>
      ))}
    </View>
  )
}

export function PlacesBelow() {
  const path = usePathname()
  const places = usePlaces()
  return (
    <View style={styles.below} role="navigation">
      {places.map(({ path: to, name, Icon }) => (
        <Link key={to} href={to} style={styles.half} aria-current={path === to ? 'page' : undefined}>
          <View style={styles.tab}>
            <Icon size={20} color={path === to ? TONES.heron : TONES.mist} />
            <Words size={12} weight="semiBold" tone={path === to ? 'heron' : 'mist'}>
              {name}
            </Words>
          </View>
        </Link>
      ))}
    </View>
  )
}

/** At the left of a low window. */
export function PlacesBeside() {
  const path = usePathname()
  const places = usePlaces()
  return (
    <View style={styles.beside} role="navigation">
      {places.map(({ path: to, name, Icon }) => (
        <Link key={to} href={to} style={styles.link} aria-current={path === to ? 'page' : undefined}>
          <View style={styles.besideTab}>
            <Icon size={20} color={path === to ? TONES.heron : TONES.mist} />
            <Words size={11} weight="semiBold" tone={path === to ? 'heron' : 'mist'}>
              {name}
            </Words>
          </View>
        </Link>
      ))}
    </View>
  )
}

const styles = StyleSheet.create({
  beside: {
    width: PLACES_BESIDE,
    backgroundColor: TONES.marsh,
    borderRightWidth: 1,
    borderRightColor: TONES.line,
    paddingTop: 8,
    gap: 6,
  },
  besideTab: {
    alignItems: 'center',
    justifyContent: 'center',
    gap: 2,
    minHeight: 50,
    width: PLACES_BESIDE - 1,
  },
  across: { flexDirection: 'row', gap: 4, marginLeft: 16 },
  link: { borderRadius: RADIUS.middle, textDecorationLine: 'none' },
  place: { minHeight: 36, justifyContent: 'center', borderRadius: RADIUS.middle, paddingHorizontal: 14 },
  slim: { minHeight: 30 },
  here: { backgroundColor: TONES.heronFilled },
  below: {
    flexDirection: 'row',
    height: PLACES_BELOW,
    backgroundColor: TONES.marsh,
    borderTopWidth: 1,
    borderTopColor: TONES.line,
  },
  half: { flex: 1, minHeight: TOUCH, textDecorationLine: 'none' },
  tab: { alignItems: 'center', justifyContent: 'center', gap: 2, height: PLACES_BELOW - 1, width: '100%' },
})
