/** A square code for a phone to look at: dark on light, as cameras of phones expect it. */
import { create } from 'qrcode'
import { StyleSheet, View } from 'react-native'
import Svg, { Path } from 'react-native-svg'

/** Modules of light around it. */
const QUIET = 3

export function SquareCode({ text, side, label }: { text: string; side: number; label: string }) {
  const { modules } = create(text, { errorCorrectionLevel: 'M' })
  const n = modules.size
  const path = Array.from({ length: n * n }, (_, i) => i)
    .filter((i) => modules.data[i])
    .map((i) => `M${(i % n) + QUIET} ${Math.floor(i / n) + QUIET}h1v1h-1z`)
    .join('')
  return (
    <View style={styles.light} role="img" aria-label={label} testID="square-code">
      <Svg width={side} height={side} viewBox={`0 0 ${n + 2 * QUIET} ${n + 2 * QUIET}`}>
        <Path d={path} fill="#0C1315" />
      </Svg>
    </View>
  )
}

const styles = StyleSheet.create({
  light: { alignSelf: 'center', backgroundColor: '#FFFFFF', borderRadius: 8, padding: 4 },
})
