/** A picture with what is marked on it, and its scopes below: touched, a scope becomes the next one. */
import { type RefObject, useRef } from 'react'
import { Pressable, StyleSheet, View } from 'react-native'
import { type Mark, SCOPES, type Scope } from '../../core/picture/scopes'
import { Words } from '../basics/Words'
import { LivePicture } from '../picture/LivePicture'
import { TallyFrame } from '../tally/TallyMark'
import { RADIUS, TONES } from '../theme/tones'
import { useScopes } from './useScopes'

export const SCOPE_WORDS: Record<Scope, string> = {
  waveform: 'Waveform',
  parade: 'R G B',
  vectorscope: 'Vectorscope',
  histogram: 'Histogram',
}

interface ScopeViewProps {
  camera: string
  name: string
  width: number
  /** Of each scope; 0 for none. */
  scopeHeight: number
  scopes: readonly Scope[]
  mark: Mark | null
  onScope(index: number, scope: Scope): void
  canvasRef?: RefObject<HTMLCanvasElement | null>
  /** A touch on the picture, shares from the left and the top. */
  onTouch?: ((x: number, y: number) => void) | undefined
}

const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`

export function ScopeView(props: ScopeViewProps) {
  const { camera, name, width, scopeHeight, scopes, mark, onScope, canvasRef, onTouch } = props
  const own = useRef<HTMLCanvasElement | null>(null)
  const picture = canvasRef ?? own
  const marked = useRef<HTMLCanvasElement | null>(null)
  const first = useRef<HTMLCanvasElement | null>(null)
  const second = useRef<HTMLCanvasElement | null>(null)
  const height = Math.round((width * 9) / 16)
  const each = Math.floor((width - 6 * (scopes.length - 1)) / Math.max(1, scopes.length))
  // Drawn at half the size: it is light that is counted, not points.
  const size = {
    width: Math.max(40, Math.round(each / 2)),
    height: Math.max(30, Math.round(scopeHeight / 2)),
  }
  const found = useScopes(
    picture,
    scopeHeight > 0
      ? scopes.map((scope, i) => ({
          ...{ scope, canvas: i === 0 ? first : second, ...size },
          ...(scope === 'vectorscope' ? { width: size.height } : {}),
        }))
      : [],
    mark ? { mark, canvas: marked } : null,
  )
  return (
    <View style={{ width, gap: 6 }} testID={`view-${camera}`}>
      <View>
        <LivePicture camera={camera} width={width} height={height} canvasRef={picture} />
        {mark ? (
          <canvas
            ref={marked}
            data-testid="picture-mark"
            style={{ position: 'absolute', left: 0, top: 0, width, height, pointerEvents: 'none' }}
          />
        ) : null}
        <TallyFrame camera={camera} thick={4} />
        <View style={styles.name}>
          <Words size={13} weight="semiBold" numberOfLines={1}>
            {name}
          </Words>
        </View>
        {onTouch ? (
          <Pressable
            style={StyleSheet.absoluteFill}
            accessibilityRole="button"
            accessibilityLabel={`Touch the card in the picture of ${name}`}
            onPress={(event) => {
              const { locationX, locationY, offsetX, offsetY } = event.nativeEvent as unknown as Record<
                string,
                number
              >
              onTouch((offsetX ?? locationX ?? 0) / width, (offsetY ?? locationY ?? 0) / height)
            }}
            testID={`touch-${camera}`}
          />
        ) : null}
      </View>
      {scopeHeight > 0 ? (
        <View style={styles.row}>
          {scopes.map((scope, i) => (
            <Pressable
              key={i}
              style={[styles.scope, { width: each, height: scopeHeight }]}
              onPress={() => onScope(i, SCOPES[(SCOPES.indexOf(scope) + 1) % SCOPES.length]!)}
              accessibilityRole="button"
              accessibilityLabel={`${SCOPE_WORDS[scope]} of ${name}; touch for the next scope`}
              testID={`scope-${i}`}
            >
              <canvas
                ref={i === 0 ? first : second}
                style={{
                  width: scope === 'vectorscope' ? Math.min(each, scopeHeight) : each,
                  height: scopeHeight,
                  display: 'block',
                  margin: '0 auto',
                  objectFit: 'fill',
                }}
              />
              <Words size={12} tone="mist" style={styles.word}>
                {SCOPE_WORDS[scope]}
              </Words>
              {i === 0 && found && found.clipped >= 0.001 ? (
                <Words size={12} tone="clay" style={styles.clips} testID="clipped">
                  clipped {percent(found.clipped)}
                </Words>
              ) : null}
              {i === 0 && found && found.crushed >= 0.02 ? (
                <Words size={12} tone="clay" style={styles.crushed} testID="crushed">
                  crushed {percent(found.crushed)}
                </Words>
              ) : null}
            </Pressable>
          ))}
        </View>
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  name: {
    ...{ position: 'absolute', left: 6, top: 6, paddingHorizontal: 8, paddingVertical: 2 },
    ...{ borderRadius: RADIUS.small, backgroundColor: '#0C1315CC', pointerEvents: 'none' },
  },
  row: { flexDirection: 'row', gap: 6 },
  scope: {
    overflow: 'hidden',
    backgroundColor: '#060A0B',
    borderRadius: RADIUS.small,
    borderWidth: 1,
    borderColor: TONES.line,
  },
  word: { position: 'absolute', left: 6, top: 3 },
  clips: { position: 'absolute', right: 6, top: 3 },
  crushed: { position: 'absolute', right: 6, bottom: 3 },
})
