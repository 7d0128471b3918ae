/** Framing guides over the live picture. */
import { StyleSheet } from 'react-native'
import Svg, { G, Line, Rect } from 'react-native-svg'
import { TONES } from '../theme/tones'
import { useGuides } from './guides'

/** What every screen shows of a picture. */
const SAFE = 0.9

export function Guides({ width, height }: { width: number; height: number }) {
  const shown = useGuides()
  if (shown.length === 0) return null
  const stroke = { stroke: TONES.sand, strokeWidth: 1, strokeOpacity: 0.55 }
  const upright = (height * 9) / 16
  return (
    <Svg width={width} height={height} style={styles.over} testID="guides">
      {shown.includes('thirds') ? (
        <G>
          {[1 / 3, 2 / 3].map((share) => (
            <G key={share}>
              <Line x1={width * share} y1={0} x2={width * share} y2={height} {...stroke} />
              <Line x1={0} y1={height * share} x2={width} y2={height * share} {...stroke} />
            </G>
          ))}
        </G>
      ) : null}
      {shown.includes('centre') ? (
        <G>
          <Line x1={width / 2 - 16} y1={height / 2} x2={width / 2 + 16} y2={height / 2} {...stroke} />
          <Line x1={width / 2} y1={height / 2 - 16} x2={width / 2} y2={height / 2 + 16} {...stroke} />
        </G>
      ) : null}
      {shown.includes('safe') ? (
        <Rect
          x={(width * (1 - SAFE)) / 2}
          y={(height * (1 - SAFE)) / 2}
          width={width * SAFE}
          height={height * SAFE}
          fill="none"
          strokeDasharray="6 5"
          {...stroke}
        />
      ) : null}
      {shown.includes('upright') ? (
        <G>
          <Rect
            x={0}
            y={0}
            width={(width - upright) / 2}
            height={height}
            fill={TONES.ink}
            fillOpacity={0.5}
          />
          <Rect
            x={(width + upright) / 2}
            y={0}
            width={(width - upright) / 2}
            height={height}
            fill={TONES.ink}
            fillOpacity={0.5}
          />
          <Rect
            x={(width - upright) / 2}
            y={0.5}
            width={upright}
            height={height - 1}
            fill="none"
            {...stroke}
          />
        </G>
      ) : null}
    </Svg>
  )
}

const styles = StyleSheet.create({ over: { position: 'absolute', left: 0, top: 0, pointerEvents: 'none' } })
