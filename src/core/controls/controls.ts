/** How a person drives: speeds, devices, keys. Kept on the server; an open JSON file to take elsewhere. */
import * as v from 'valibot'
import { Curve, DEFAULT_CURVE } from '../stick/curve'
import { ACTION_NAMES } from './actions'
import { Placement } from './placement'

export const CONTROLS_FORMAT = 'steady-heron/controls'

const Index = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(255))
const Raw = v.pipe(v.number(), v.minValue(-8), v.maxValue(8))
const Part = v.pipe(v.number(), v.minValue(0.02), v.maxValue(1))

/** Something on a device that can be pressed. */
export const Button = v.variant('kind', [
  v.object({ kind: v.literal('button'), index: Index }),
  /** A hat that the browser gives as an axis: its eight directions, clockwise from up. */
  v.object({ kind: v.literal('hat'), index: Index, direction: v.picklist([0, 2, 4, 6]) }),
])
export type Button = v.InferOutput<typeof Button>

export const AxisBinding = v.variant('kind', [
  v.object({
    kind: v.literal('axis'),
    index: Index,
    /** Raw values at rest and at both ends. */
    low: Raw,
    centre: Raw,
    high: Raw,
    inverted: v.boolean(),
  }),
  /** Or two buttons: full push either way. */
  v.object({ kind: v.literal('buttons'), negative: Button, positive: Button }),
])
export type AxisBinding = v.InferOutput<typeof AxisBinding>

export const AXIS_USES = ['pan', 'tilt', 'zoom', 'focus', 'speed', 'setting'] as const
export type AxisUse = (typeof AXIS_USES)[number]

export const DeviceProfile = v.object({
  /** As the browser names the device. */
  device: v.pipe(v.string(), v.minLength(1), v.maxLength(200)),
  /** The camera that it drives; null: the selected one. */
  camera: v.nullable(v.pipe(v.string(), v.uuid())),
  axes: v.object({
    pan: v.nullable(AxisBinding),
    tilt: v.nullable(AxisBinding),
    zoom: v.nullable(AxisBinding),
    focus: v.nullable(AxisBinding),
    /** Sets the overall speed: a fader. */
    speed: v.nullable(AxisBinding),
    /** Turns the picture setting that was turned last: a knob, or a spare axis. Left out by older versions. */
    setting: v.optional(v.nullable(AxisBinding), null),
  }),
  deadZone: v.pipe(v.number(), v.minValue(0), v.maxValue(0.5)),
  curve: Curve,
  buttons: v.pipe(v.array(v.object({ button: Button, action: v.picklist(ACTION_NAMES) })), v.maxLength(64)),
})
export type DeviceProfile = v.InferOutput<typeof DeviceProfile>

/** Shares of the top speeds. */
export const Feel = v.object({
  /** Overall. */
  speed: Part,
  pan: Part,
  tilt: Part,
  zoom: Part,
  focus: Part,
  /** The share that remains while slow is held. */
  slow: Part,
  /** The most while the camera is on air. */
  onAir: Part,
})
export type Feel = v.InferOutput<typeof Feel>

export const USUAL_FEEL: Feel = { speed: 1, pan: 1, tilt: 1, zoom: 1, focus: 1, slow: 0.3, onAir: 0.35 }

export const Controls = v.object({
  format: v.literal(CONTROLS_FORMAT, 'This file holds no controls.'),
  version: v.literal(1, 'These controls are of a newer version than this program knows.'),
  feel: Feel,
  /** Speeds for single cameras, by id. */
  byCamera: v.record(v.pipe(v.string(), v.uuid()), Feel),
  devices: v.pipe(v.array(DeviceProfile), v.maxLength(40)),
  /** Keys that were chosen instead of the usual ones; '' for none. */
  keys: v.record(v.picklist(ACTION_NAMES), v.pipe(v.string(), v.maxLength(20))),
  /** One nudge, as a part of the picture's width. */
  nudge: v.pipe(v.number(), v.minValue(0.002), v.maxValue(0.25)),
  /** How the Desk is arranged, by the shape of the window, with the page where it is not the first. Left out by older versions. */
  placements: v.optional(v.record(v.pipe(v.string(), v.maxLength(20)), Placement), {}),
})
export type Controls = v.InferOutput<typeof Controls>

export const USUAL_CONTROLS: Controls = {
  format: CONTROLS_FORMAT,
  version: 1,
  feel: USUAL_FEEL,
  byCamera: {},
  devices: [],
  keys: {},
  nudge: 0.02,
  placements: {},
}

const axis = (index: number, inverted = false): AxisBinding => ({
  kind: 'axis',
  index,
  low: -1,
  centre: 0,
  high: 1,
  inverted,
})

/** For a device that was never seen before: two sticks, as most pads have them. */
export function usualDevice(device: string): DeviceProfile {
  return {
    device,
    camera: null,
    axes: { pan: axis(0), tilt: axis(1, true), zoom: axis(3, true), focus: null, speed: null, setting: null },
    deadZone: 0.12,
    curve: DEFAULT_CURVE,
    buttons: [],
  }
}

const NO_AXES = { pan: null, tilt: null, zoom: null, focus: null, speed: null, setting: null }
/** For a controller of knobs that was never seen before: they stay where they are left, so that none may drive untaught. */
export const usualKnobs = (device: string): DeviceProfile => ({ ...usualDevice(device), axes: NO_AXES })

export const feelFor = (controls: Controls, camera: string): Feel =>
  controls.byCamera[camera] ?? controls.feel
