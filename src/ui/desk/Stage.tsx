/** The live picture with its edge scales; it can be dragged onto a tile to store. */
import { useDraggable } from '@dnd-kit/core'
import type { RefObject } from 'react'
import { StyleSheet, View } from 'react-native'
import { isHere } from '../../core/presets/pose'
import type { PresetView } from '../../server/api'
import { Advice } from '../basics/Advice'
import { Words } from '../basics/Words'
import { BELOW, EdgeScales, LEFT, RIGHT } from '../picture/EdgeScales'
import { LivePicture } from '../picture/LivePicture'
import { RADIUS } from '../theme/tones'
import { web } from '../theme/web'
import { healthWords } from './CameraCard'
import type { DeskCamera } from './useCamera'

export const PICTURE = 'picture'

const TITLES: Record<string, string> = {
  connecting: 'Connecting',
  silent: 'Camera silent',
  standby: 'Camera in standby',
}

interface StageProps {
  camera: DeskCamera
  presets: readonly PresetView[]
  /** Width of the picture alone; the scales come to it. */
  width: number
  canvasRef: RefObject<HTMLCanvasElement | null>
  typed: string
  onRecall(id: string): void
}

export const stageHeight = (pictureWidth: number) => Math.round((pictureWidth * 9) / 16) + BELOW
export const stageExtra = LEFT + RIGHT

export function Stage({ camera, presets, width, canvasRef, typed, onRecall }: StageProps) {
  const { view, pose, health, lens, profile } = camera
  const { setNodeRef, listeners } = useDraggable({ id: PICTURE })
  const height = Math.round((width * 9) / 16)
  const here = pose && !pose.moving ? presets.find((p) => isHere(pose, p.pose, camera.zoomRange)) : undefined
  return (
    <View style={{ width: width + LEFT + RIGHT, height: height + BELOW }}>
      <View
        ref={setNodeRef as unknown as React.Ref<View>}
        {...(listeners as object)}
        testID="stage"
        accessibilityLabel={`Picture of camera ${view.number}, ${view.name}. Drag it onto a tile to store a preset.`}
        style={[
          styles.picture,
          { left: LEFT },
          web({ touchAction: 'none', userSelect: 'none', cursor: 'grab' }),
        ]}
      >
        {view.hasPicture ? (
          <LivePicture camera={view.id} width={width} height={height} canvasRef={canvasRef} />
        ) : (
          <View style={[styles.none, { width, height }]}>
            <Words tone="mist">This camera has no picture.</Words>
          </View>
        )}
        <View style={[styles.chip, styles.topLeft]}>
          <Words size={14}>
            <Words size={14} weight="bold">
              {view.number}
            </Words>{' '}
            {view.name}
            <Words size={13} tone={health?.state === 'ready' ? 'mist' : 'clay'} testID="link">
              {`  ${healthWords(camera)}`}
            </Words>
          </Words>
        </View>
        {pose ? (
          <View style={[styles.chip, styles.bottomLeft]} testID="framing">
            <Words size={13}>
              {`${lens.magnification(pose.zoom).toFixed(1)}×  ${pose.hfovDeg.toFixed(1)}°`}
            </Words>
          </View>
        ) : null}
        {typed ? (
          <View style={[styles.chip, styles.typed]} testID="typed">
            <Words size={22} weight="bold">
              {typed}
            </Words>
            <Words size={12} tone="mist">
              Enter recalls
            </Words>
          </View>
        ) : null}
        {health?.advice && health.state === 'slow' ? (
          <View style={[styles.chip, styles.slow]}>
            <Words size={12} tone="clay">
              {health.advice}
            </Words>
          </View>
        ) : null}
        {health?.advice && health.state !== 'slow' ? (
          <Advice title={TITLES[health.state] ?? health.state} text={health.advice} style={styles.advice} />
        ) : null}
      </View>
      <EdgeScales
        width={width}
        height={height}
        profile={profile}
        lens={lens}
        pose={pose}
        presets={presets}
        hereId={here?.id ?? null}
        onTick={onRecall}
      />
    </View>
  )
}

const styles = StyleSheet.create({
  picture: { position: 'absolute', top: 0 },
  none: {
    backgroundColor: '#060A0B',
    borderRadius: RADIUS.small,
    alignItems: 'center',
    justifyContent: 'center',
  },
  chip: {
    position: 'absolute',
    backgroundColor: 'rgba(12,19,21,0.82)',
    borderRadius: RADIUS.small,
    paddingHorizontal: 8,
    paddingVertical: 3,
    pointerEvents: 'none',
  },
  topLeft: { left: 6, top: 6 },
  slow: { left: 6, top: 36, right: 6 },
  bottomLeft: { left: 6, bottom: 6 },
  typed: { right: 6, top: 6, alignItems: 'center' },
  advice: { position: 'absolute', left: 6, right: 6, bottom: 6 },
})
