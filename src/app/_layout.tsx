import { useFonts } from 'expo-font'
import { Slot } from 'expo-router'
import { StatusBar } from 'expo-status-bar'
import { View } from 'react-native'
import { startEarly } from '../ui/live/early'
import { FONT_FILES } from '../ui/theme/fonts'
import { TONES } from '../ui/theme/tones'

startEarly()

export default function Layout() {
  const [ready, failed] = useFonts(FONT_FILES)
  return (
    <View style={{ flex: 1, backgroundColor: TONES.ink }}>
      <StatusBar style="light" />
      {ready || failed ? <Slot /> : null}
    </View>
  )
}
