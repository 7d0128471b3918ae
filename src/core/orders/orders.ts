/**
 * Every order to a camera. This table is the one place where an order is defined: the live socket, the gate,
 * the drivers and the pages take its fields, its types and its rules from here.
 */
import * as v from 'valibot'
import type { Right } from '../people/rights'
import { SettingValue } from '../picture/settings'
import { PresetPose } from '../presets/pose'
import { RoundOrder } from '../presets/round'
import {
  Deflection,
  DriveStep,
  Id,
  Level,
  MemoryNumber,
  PictureWidths,
  Point,
  RunSeconds,
  Travelling,
} from './entries'

/**
 * Who carries an order out: the `desk` with what it has stored, the `picture` geometry, or a device. Of a rig
 * of two devices, `head` and `lens` mean the one, `each` means both, and `whole` can be done by neither.
 */
export type Doer = 'desk' | 'picture' | 'head' | 'lens' | 'each' | 'whole'

interface OrderTraits {
  by: Doer
  /** As in "This camera cannot ...". */
  what: string
  /** Which right it takes. */
  right: Right | ((fields: { action?: unknown }) => Right)
  /** Does it set the camera in motion? Then whatever else moves it ends. */
  moves: boolean | ((fields: { action?: unknown }) => boolean)
  /** It makes sense even while the camera is in standby or silent. */
  anyTime?: true
}

const order = <const T extends OrderTraits, const E extends v.ObjectEntries>(traits: T, entries: E) => ({
  ...traits,
  schema: v.object(entries),
})
const camera = { camera: Id }

export const MENU_ACTIONS = ['open', 'close', 'up', 'down', 'left', 'right', 'enter', 'back'] as const
export type MenuAction = (typeof MENU_ACTIONS)[number]

export const ORDERS = {
  /**
   * `pace`: for this once; null: the preset's own, or its camera's. `whole`: all of its pose, whatever the
   * preset leaves alone, and with a live picture.
   */
  recall: order(
    { by: 'desk', what: 'go to a preset', right: 'recall', moves: true },
    { preset: Id, ...Travelling, whole: v.optional(v.boolean(), false) },
  ),
  goToPose: order(
    { by: 'desk', what: 'go to a pose', right: 'drive', moves: true },
    { ...camera, ...Travelling, pose: PresetPose },
  ),
  /** Plays a recorded move: from its first pose, or its last, which it must have gone to before. */
  replay: order(
    { by: 'desk', what: 'play a recorded move', right: 'cues', moves: true },
    {
      ...camera,
      move: Id,
      percent: v.optional(v.pipe(v.number(), v.minValue(25), v.maxValue(400)), 100),
      backwards: v.optional(v.boolean(), false),
      atLeastSeconds: Travelling.atLeastSeconds,
    },
  ),
  /** Sends a camera through its presets or its own memories. */
  startRound: order(
    { by: 'desk', what: 'go on a round', right: 'store', moves: true },
    { ...camera, round: RoundOrder },
  ),
  /** Brings a point of the picture to its centre. */
  aim: order(
    { by: 'picture', what: 'aim', right: 'drive', moves: true },
    { ...camera, ...Point, ...Travelling },
  ),
  /** Fills the picture with a box of it. */
  frame: order(
    { by: 'picture', what: 'frame', right: 'drive', moves: true },
    { ...camera, u0: Deflection, v0: Deflection, u1: Deflection, v1: Deflection, ...Travelling },
  ),
  /** Shifts the middle of the picture, in picture widths. */
  nudge: order(
    { by: 'picture', what: 'be nudged', right: 'drive', moves: true },
    { ...camera, right: PictureWidths, up: PictureWidths, ...Travelling },
  ),
  /** Changes the focal length by a factor; the point stays where it is. */
  zoomAbout: order(
    { by: 'picture', what: 'zoom about a point', right: 'drive', moves: true },
    { ...camera, ...Point, ...Travelling, factor: v.pipe(v.number(), v.minValue(0.2), v.maxValue(5)) },
  ),
  /** Drives by the head's own steps for a given time; positive ones turn right, up and to the long end. */
  runSteps: order(
    { by: 'picture', what: 'be driven by steps', right: 'drive', moves: true },
    { ...camera, pan: DriveStep, tilt: DriveStep, zoom: DriveStep, seconds: RunSeconds },
  ),
  /** Ends whatever it does, with a soft stop where it is driven. */
  hold: order({ by: 'picture', what: 'be held still', right: 'recall', moves: false, anyTime: true }, camera),
  home: order({ by: 'head', what: 'go home', right: 'drive', moves: true }, { ...camera, ...Travelling }),
  /** The camera's own memories, numbered from 1: keeps where it stands in one, or goes to it. */
  memory: order(
    {
      by: 'whole',
      what: 'use memories of its own',
      right: ({ action }) => (action === 'set' ? 'store' : 'recall'),
      moves: ({ action }) => action === 'recall',
    },
    { ...camera, action: v.picklist(['set', 'recall']), number: MemoryNumber },
  ),
  /** A head that keeps a subject in the picture by itself. Levels from calm to quick, from wide to close. */
  followSubject: order(
    { by: 'whole', what: 'follow a subject by itself', right: 'drive', moves: true },
    { ...camera, on: v.boolean(), sensitivity: Level, size: Level },
  ),
  focusMode: order(
    { by: 'lens', what: 'set its focus', right: 'drive', moves: false },
    { ...camera, auto: v.boolean() },
  ),
  focusOnce: order({ by: 'lens', what: 'focus once when told', right: 'drive', moves: false }, camera),
  focusAt: order(
    { by: 'lens', what: 'focus on a place', right: 'drive', moves: false },
    { ...camera, ...Point },
  ),
  power: order(
    { by: 'each', what: 'be switched from here', right: 'power', moves: false, anyTime: true },
    { ...camera, on: v.boolean() },
  ),
  /** Its own tally lamp; `flash` lights it for a moment, to see which camera it is. */
  lamp: order(
    { by: 'lens', what: 'show a tally lamp', right: 'picture', moves: false },
    { ...camera, lamp: v.picklist(['program', 'preview', 'off', 'flash']) },
  ),
  /** The camera's own menu, in its picture. */
  menu: order(
    { by: 'whole', what: 'show its menu', right: 'picture', moves: false },
    { ...camera, action: v.picklist(MENU_ACTIONS) },
  ),
  /** One of the settings that the camera offers. */
  setting: order(
    { by: 'lens', what: 'change this setting', right: 'picture', moves: false },
    { ...camera, key: v.pipe(v.string(), v.maxLength(40)), value: SettingValue },
  ),
} as const

export type OrderName = keyof typeof ORDERS
type Schema<K extends OrderName> = (typeof ORDERS)[K]['schema']
/** One order with its fields; `t` says which it is. */
export type OrderNamed<K extends OrderName> = {
  [N in K]: { t: N } & v.InferOutput<Schema<N>>
}[K]
/** As it is written: fields with a default may be left out. */
type WrittenNamed<K extends OrderName> = {
  [N in K]: { t: N } & v.InferInput<Schema<N>>
}[K]
export type CameraOrder = OrderNamed<OrderName>
export type WrittenOrder = WrittenNamed<OrderName>

/** The orders that devices carry out; the others the desk takes apart first. */
export type DeviceOrderName = {
  [K in OrderName]: (typeof ORDERS)[K]['by'] extends 'desk' | 'picture' ? never : K
}[OrderName]

export const ORDER_NAMES = Object.keys(ORDERS) as OrderName[]

/** A schema for each order, with what a sender adds to it. */
export const orderSchemas = <E extends v.ObjectEntries>(added: E) =>
  ORDER_NAMES.map((name) =>
    v.object({ t: v.literal(name), ...added, ...(ORDERS[name].schema.entries as v.ObjectEntries) }),
  )

export const rightFor = (order: CameraOrder): Right => {
  const { right } = ORDERS[order.t] as OrderTraits
  return typeof right === 'function' ? right(order as { action?: unknown }) : right
}

export const movesCamera = (order: CameraOrder): boolean => {
  const { moves } = ORDERS[order.t] as OrderTraits
  return typeof moves === 'function' ? moves(order as { action?: unknown }) : moves
}
