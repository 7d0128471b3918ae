/** A table of numbers as a curve, so that a slip of a digit is seen. */
import { StyleSheet, View } from 'react-native'
import Svg, { Circle, Path } from 'react-native-svg'
import { Words } from '../basics/Words'
import { TONES } from '../theme/tones'

const WIDTH = 320
const HEIGHT = 90
const EDGE = 5

interface DrawnProps {
  points: readonly (readonly [number, number])[]
  /** What runs to the right, and what upwards. */
  across: string
  up: string
  testID: string
}

export function Drawn({ points, across, up, testID }: DrawnProps) {
  const known = points.filter(([x, y]) => Number.isFinite(x) && Number.isFinite(y))
  if (known.length < 2) return null
  const ends = (values: number[]) => [Math.min(...values), Math.max(...values)] as const
  const [left, right] = ends(known.map(([x]) => x))
  const [low, high] = ends(known.map(([, y]) => y))
  const place = ([x, y]: readonly [number, number]) => ({
    x: EDGE + ((x - left) / (right - left || 1)) * (WIDTH - 2 * EDGE),
    y: HEIGHT - EDGE - ((y - low) / (high - low || 1)) * (HEIGHT - 2 * EDGE),
  })
  const places = known.map(place)
  const path = places.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`).join(' ')
  return (
    <View style={styles.drawn} testID={testID}>
      <Svg width={WIDTH} height={HEIGHT}>
        <Path d={path} stroke={TONES.heron} strokeWidth={2} fill="none" />
        {places.map(({ x, y }) => (
          <Circle key={`${x} ${y}`} cx={x} cy={y} r={2.5} fill={TONES.sand} />
        ))}
      </Svg>
      <Words size={12} tone="mist">
        {`${across} ${left} to ${right}, ${low} to ${high} ${up}`}
      </Words>
    </View>
  )
}

const styles = StyleSheet.create({ drawn: { maxWidth: '100%', overflow: 'hidden' } })
