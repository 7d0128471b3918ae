/** Two tables of numbers as curves over each other: as it was, thin, and as it is. */
import { StyleSheet, View } from 'react-native'
import Svg, { Circle, Path } from 'react-native-svg'
import { Words } from '../basics/Words'
import { TONES } from '../theme/tones'

const WIDTH = 340
const HEIGHT = 150
const EDGE = 6

type Points = readonly (readonly [number, number])[]

interface ComparedProps {
  before: Points
  after: Points
  /** What runs to the right, and what upwards. */
  across: string
  up: string
  testID: string
}

const rounded = (x: number) => Number(x.toPrecision(3))

export function Compared({ before, after, across, up, testID }: ComparedProps) {
  const all = [...before, ...after]
  const [left, right] = [Math.min(...all.map(([x]) => x)), Math.max(...all.map(([x]) => x))]
  const high = Math.max(...all.map(([, y]) => y))
  const place = ([x, y]: readonly [number, number]) => ({
    x: EDGE + ((x - left) / (right - left || 1)) * (WIDTH - 2 * EDGE),
    y: HEIGHT - EDGE - (y / (high || 1)) * (HEIGHT - 2 * EDGE),
  })
  const path = (points: Points) =>
    points
      .map(place)
      .map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`)
      .join(' ')
  return (
    <View style={styles.drawn} testID={testID}>
      <Svg
        width="100%"
        height={HEIGHT}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="xMinYMid meet"
      >
        <Path d={path(before)} stroke={TONES.mist} strokeWidth={1} strokeDasharray="4 3" fill="none" />
        <Path d={path(after)} stroke={TONES.heron} strokeWidth={2} fill="none" />
        {after.map(place).map(({ x, y }) => (
          <Circle key={`${x} ${y}`} cx={x} cy={y} r={2.5} fill={TONES.sand} />
        ))}
      </Svg>
      <Words size={12} tone="mist">
        {`${across} ${rounded(left)} to ${rounded(right)}, up to ${rounded(high)} ${up}; dashed: as the profile had it`}
      </Words>
    </View>
  )
}

const styles = StyleSheet.create({ drawn: { maxWidth: 520 } })
