/** The live picture with its edge scales; it can be dragged onto a tile to store. */

import { useDraggable } from '@dnd-kit/core'
import { memo, type RefObject, useMemo } from 'react'
import { StyleSheet, View } from 'react-native'
import { can } from '../../core/facts/capabilities'
import type { Lens } from '../../core/optics/lens'
import type { Pace } from '../../core/presets/pace'
import { isHere, type LivePose, unknownOf } from '../../core/presets/pose'
import type { PresetView } from '../../server/api'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { useFactValue } from '../live/useFactValue'
import { BELOW, EdgeScales, LEFT, RIGHT } from '../picture/EdgeScales'
import { Guides } from '../picture/Guides'
import { LivePicture } from '../picture/LivePicture'
import { PictureTools } from '../picture/PictureTools'
import { SharpnessBar } from '../picture/SharpnessBar'
import { TOOL_WORDS, type Tool } from '../picture/tools'
import { setPower } from '../presets/actions'
import { posed } from '../presets/posed'
import { TrustChip } from '../presets/TrustChip'
import { AskBar } from '../tally/AskBar'
import { TallyFrame, TallyMark } from '../tally/TallyMark'
import { RADIUS } from '../theme/tones'
import { web } from '../theme/web'
import { MenuBar } from '../tuning/MenuBar'
import { ClaimChip } from './ClaimChip'
import { healthWords, isWell } from './healthWords'
import { type DeskCamera, usePose } from './useCamera'

export const PICTURE = 'picture'

const TITLES: Record<string, string> = {
  connecting: 'Connecting',
  silent: 'Camera silent',
  standby: 'Camera in standby',
  refused: 'Login refused',
  unheard: 'Sends only',
}

/** `prefix` stands before the digits, `how` below them. */
export interface Typed {
  prefix: string
  digits: string
  how: string
}

interface StageProps {
  camera: DeskCamera
  presets: readonly PresetView[]
  /** Width of the picture alone; the scales come to it. */
  width: number
  canvasRef: RefObject<HTMLCanvasElement | null>
  /** A number that is being typed, and what it is for. */
  typed: Typed | null
  /** Numbers of the cameras that are driven along. */
  along: readonly number[]
  tool: Tool
  /** How long an aim or a frame takes; null: as fast as it can. */
  toolPace: Pace | null
  onRecall(id: string): void
}

export const stageHeight = (pictureWidth: number) => Math.round((pictureWidth * 9) / 16) + BELOW
export const stageExtra = LEFT + RIGHT
export const STAGE_ROOM = { across: stageExtra, below: BELOW }

/** Optical and digital zoom told apart, and the angle of view. */
function zoomWords(lens: Lens, pose: LivePose): string {
  const { zoom, hfovDeg, late } = pose
  const unknown = unknownOf(pose)
  const missing = unknown.length > 0 ? `${unknown.join(', ')} not known` : ''
  if (zoom === null || hfovDeg === null) return missing
  const digital = lens.digital(zoom)
  const optical = lens.magnification(zoom) / digital
  const times =
    digital > 1 ? `${optical.toFixed(1)}× and ${digital.toFixed(1)}× digital` : `${optical.toFixed(1)}×`
  const words = `${times}  ${hfovDeg.toFixed(1)}°`
  return [words, missing, late ? 'position late' : ''].filter(Boolean).join('  ')
}

export const Stage = memo(function Stage({
  camera,
  presets,
  width,
  canvasRef,
  typed,
  along,
  tool,
  toolPace,
  onRecall,
}: StageProps) {
  const { view, health } = camera
  const { setNodeRef, listeners } = useDraggable({ id: PICTURE })
  const height = Math.round((width * 9) / 16)
  return (
    <View style={{ width: width + LEFT + RIGHT, height: height + BELOW }}>
      <View
        ref={setNodeRef as unknown as React.Ref<View>}
        {...(tool === 'store' ? (listeners as object) : {})}
        testID="stage"
        accessibilityLabel={`Picture of camera ${view.number}, ${view.name}. Drag it onto a tile to store a preset.`}
        style={[
          styles.picture,
          { left: LEFT },
          web({ touchAction: 'none', userSelect: 'none', cursor: 'grab' }),
        ]}
      >
        {view.picture.kind !== 'none' && view.enabled ? (
          <StagePicture camera={view.id} width={width} height={height} canvasRef={canvasRef} />
        ) : (
          <View style={[styles.none, { width, height }]}>
            <Words tone="mist">
              {view.enabled
                ? 'This camera has no picture. Give it one in Setup.'
                : 'Switched off in the desk.'}
            </Words>
          </View>
        )}
        <Guides width={width} height={height} />
        <TallyFrame camera={view.id} thick={5} />
        <PictureTools
          camera={view.id}
          tool={tool}
          toolPace={toolPace}
          width={width}
          height={height}
          enabled={camera.enabled}
        />
        <View style={[styles.chip, styles.topLeft]} testID="stage-title">
          <TallyMark camera={view.id} size={16} />
          <Words size={14}>
            <Words size={14} weight="bold">
              {view.number}
            </Words>{' '}
            {view.name}
            <Words size={13} tone={isWell(health, view.enabled) ? 'mist' : 'clay'} testID="link">
              {`  ${healthWords(health, view.enabled)}`}
            </Words>
          </Words>
        </View>
        <FramingChip camera={camera} />
        {typed ? (
          <View style={[styles.chip, styles.typed]} testID="typed">
            <Words size={22} weight="bold">
              {`${typed.prefix}${typed.digits}`}
            </Words>
            <Words size={12} tone="mist">
              {typed.how}
            </Words>
          </View>
        ) : null}
        {TOOL_WORDS[tool].how ? (
          <View style={[styles.chip, styles.how]} testID="tool-how">
            <Words size={13} weight="semiBold" tone="heron">
              {TOOL_WORDS[tool].how}
            </Words>
          </View>
        ) : null}
        {view.picture.kind !== 'none' ? <SharpBox camera={view.id} canvasRef={canvasRef} /> : null}
        {view.picture.kind !== 'none' ? <TrustChip camera={camera} presets={presets} /> : null}
        <ClaimChip camera={view.id} />
        <AskBar />
        <View style={styles.menu}>
          <MenuBar camera={view.id} />
        </View>
        {along.length > 0 ? (
          <View style={[styles.chip, styles.along]} testID="along">
            <Words size={13} weight="semiBold" tone="heron">
              {`Driving ${[view.number, ...along].join(', ')}`}
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
        {view.enabled && health?.advice && health.state !== 'slow' && health.state !== 'unheard' ? (
          <Advice title={TITLES[health.state] ?? health.state} text={health.advice} style={styles.advice}>
            {health.state === 'standby' && can(camera.able, 'power') ? (
              <Key label="Switch on" onPress={() => void setPower(view.id, true)} testID="switch-on" />
            ) : null}
          </Advice>
        ) : null}
      </View>
      <LiveScales camera={camera} presets={presets} width={width} height={height} onRecall={onRecall} />
    </View>
  )
})

interface StagePictureProps {
  camera: string
  width: number
  height: number
  canvasRef: RefObject<HTMLCanvasElement | null>
}

/** It follows whether the camera holds its picture. */
function StagePicture(props: StagePictureProps) {
  const held = useFactValue('pose', props.camera, (pose) => pose?.held === true)
  return <LivePicture {...props} held={held} />
}

function FramingChip({ camera: { view, lens } }: { camera: DeskCamera }) {
  const words = useFactValue('pose', view.id, (pose) => (pose ? zoomWords(lens, pose) : null), 90)
  return words ? (
    <View style={[styles.chip, styles.bottomLeft]} testID="framing">
      <Words size={13}>{words}</Words>
    </View>
  ) : null
}

/** Only where the focus is by hand. */
function SharpBox({ camera, canvasRef }: { camera: string; canvasRef: RefObject<HTMLCanvasElement | null> }) {
  const byHand = useFactValue('pose', camera, (pose) => pose?.focusAuto === false)
  return byHand ? (
    <View style={styles.sharp}>
      <SharpnessBar canvasRef={canvasRef} />
    </View>
  ) : null
}

const knowsTurn = (pose: LivePose): pose is LivePose & { panDeg: number; tiltDeg: number } =>
  pose.panDeg !== null && pose.tiltDeg !== null

interface LiveScalesProps {
  camera: DeskCamera
  presets: readonly PresetView[]
  width: number
  height: number
  onRecall(id: string): void
}

/** The scales, which follow the pose. */
function LiveScales({ camera, presets, width, height, onRecall }: LiveScalesProps) {
  const { view, lens, sight, arrival } = camera
  const pose = usePose(view.id)
  const known = useMemo(() => posed(presets), [presets])
  const here = pose && !pose.moving ? presets.find((p) => p.pose && isHere(pose, p.pose, arrival)) : undefined
  const ticks = useMemo(() => known.map((p) => ({ ...p, pose: sight.turned(p.pose) })), [known, sight])
  return (
    <EdgeScales
      width={width}
      height={height}
      profile={sight.seen}
      lens={lens}
      pose={pose && knowsTurn(pose) ? sight.turned(pose) : pose}
      presets={ticks}
      hereId={here?.id ?? null}
      onTick={onRecall}
    />
  )
}

const styles = StyleSheet.create({
  menu: { position: 'absolute', left: 8, right: 8, bottom: 8, pointerEvents: 'box-none' },
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
  topLeft: { left: 6, top: 6, flexDirection: 'row', alignItems: 'center', gap: 8 },
  slow: { left: 6, top: 36, right: 6 },
  bottomLeft: { left: 6, bottom: 6 },
  along: { left: 6, top: 36 },
  how: { alignSelf: 'center', bottom: 6, left: '28%', right: '28%', alignItems: 'center' },
  sharp: { position: 'absolute', right: 6, bottom: 34, pointerEvents: 'none' },
  typed: { right: 6, top: 6, alignItems: 'center' },
  advice: { position: 'absolute', left: 6, right: 6, bottom: 6 },
})
