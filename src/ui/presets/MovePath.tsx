/** The way of a planned move over the live picture, with the frame at its end. */
import { StyleSheet, View } from 'react-native'
import Svg, { Circle, Polygon, Polyline } from 'react-native-svg'
import type { PathSeen, PointSeen } from '../../core/motion/follow/pathSeen'
import { Words } from '../basics/Words'
import { Thumb } from '../picture/Thumb'
import { RADIUS, TONES } from '../theme/tones'

const PER_SEC = 4
/** A dot for each of so many equal parts of the time. */
const DOTS = 8

interface MovePathProps {
  camera: string
  path: PathSeen
  width: number
}

export function MovePath({ camera, path: { middle, frame }, width }: MovePathProps) {
  const height = Math.round((width * 9) / 16)
  const place = ({ u, v }: PointSeen) => ({ x: ((u + 1) / 2) * width, y: ((1 - v) / 2) * height })
  const line = (points: readonly PointSeen[]) =>
    points
      .map(place)
      .map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`)
      .join(' ')
  const end = middle.at(-1)
  const leaves = !end || Math.abs(end.u) > 1 || Math.abs(end.v) > 1
  const each = Math.max(1, Math.round((middle.length - 1) / DOTS))
  return (
    <View style={[styles.box, { width, height }]} testID="move-path">
      <Thumb camera={camera} width={width} height={height} perSec={PER_SEC} />
      <Svg width={width} height={height} style={styles.over}>
        {frame ? (
          <Polygon
            points={line(frame)}
            stroke={TONES.sand}
            strokeWidth={2}
            strokeDasharray="5 4"
            fill="none"
          />
        ) : null}
        <Polyline points={line(middle)} stroke={TONES.heron} strokeWidth={2} fill="none" />
        {middle
          .filter((_, i) => i % each === 0)
          .map(place)
          .map(({ x, y }, i) => (
            <Circle key={String(i)} cx={x} cy={y} r={3} fill={TONES.heron} />
          ))}
      </Svg>
      {leaves ? (
        <View style={styles.words}>
          <Words size={12}>It ends outside this picture.</Words>
        </View>
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  box: { overflow: 'hidden', borderRadius: RADIUS.small },
  over: { position: 'absolute', left: 0, top: 0 },
  words: {
    position: 'absolute',
    right: 4,
    bottom: 4,
    paddingHorizontal: 6,
    borderRadius: RADIUS.small,
    backgroundColor: 'rgba(12,19,21,0.82)',
  },
})
