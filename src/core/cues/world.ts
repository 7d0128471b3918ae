/** What a cue needs to know of the cameras, presets and devices that it names. */
import type { HeadProfile } from '../heads/profile'
import type { Lens } from '../optics/lens'
import type { Pace } from '../presets/pace'
import type { PresetPose } from '../presets/pose'
import type { CueView, Part, StepDoes } from './show'

/** Where a camera stands: degrees, lens units. */
export interface Place {
  panDeg: number
  tiltDeg: number
  zoom: number
}

export interface CueCamera {
  id: string
  number: number
  name: string
  profile: HeadProfile
  lens: Lens
  /** How its presets travel unless they say otherwise. */
  pace: Pace | null
}

export interface CuePreset {
  id: string
  cameraId: string
  number: number
  name: string
  pose: PresetPose | null
  pace: Pace | null
}

export interface CueDevice {
  id: string
  name: string
  messages: readonly { id: string; name: string }[]
}

/** Each answers null for what no longer exists. */
export interface CueWorld {
  camera(id: string): CueCamera | null
  preset(id: string): CuePreset | null
  cue(id: string): CueView | null
  tour(id: string): Part<'tour'> | null
  move(id: string): Part<'move'> | null
  look(id: string): Part<'look'> | null
  device(id: string): CueDevice | null
}

export const placeOf = (pose: PresetPose | null): Place | null =>
  pose && pose.panDeg !== null && pose.tiltDeg !== null && pose.zoom !== null
    ? { panDeg: pose.panDeg, tiltDeg: pose.tiltDeg, zoom: pose.zoom }
    : null

/** The camera that a step moves or changes; null: none, or it no longer exists. */
export function cameraOfStep(world: CueWorld, does: StepDoes): string | null {
  switch (does.t) {
    case 'recall':
      return world.preset(does.preset)?.cameraId ?? null
    case 'replay':
      return world.move(does.move)?.camera ?? null
    case 'tour':
      return world.tour(does.tour)?.camera ?? null
    case 'power':
      return does.camera
    default:
      return null
  }
}
