import { useFonts } from 'expo-font'
import { Slot } from 'expo-router'
import { StatusBar } from 'expo-status-bar'
import { lazy } from 'react'
import { View } from 'react-native'
import { startEarly } from '../ui/live/early'
import { useMe } from '../ui/people/me'
import { Later } from '../ui/places/Later'
import { FONT_FILES } from '../ui/theme/fonts'
import { TONES } from '../ui/theme/tones'

startEarly()

const OwnHelperDesk = lazy(() => import('../ui/helpers/OwnHelperDesk'))

export default function Layout() {
  const [ready, failed] = useFonts(FONT_FILES)
  const { data: me, error } = useMe()
  const shown = (ready || failed) && (me !== undefined || error !== undefined)
  return (
    <View style={{ flex: 1, backgroundColor: TONES.ink }}>
      <StatusBar style="light" />
      {shown ? me?.reach.desk ? <Later place={OwnHelperDesk} /> : <Slot /> : null}
    </View>
  )
}
