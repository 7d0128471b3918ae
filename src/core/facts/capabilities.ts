/** What a camera can do, asked from it or given by its profile. */
import * as v from 'valibot'
import type { OrderName } from '../orders/orders'
import { SettingSpec } from '../picture/settings'

export const Capabilities = v.object({
  panTilt: v.boolean(),
  zoom: v.boolean(),
  focus: v.boolean(),
  /** What of its pose it reports, as far as is known. */
  position: v.object({ panTilt: v.boolean(), zoom: v.boolean() }),
  /** The orders that it carries out, by name. */
  orders: v.array(v.string()),
  settings: v.array(SettingSpec),
  /** It can keep a subject in the picture by itself: the levels of how quick and how close. */
  subject: v.nullable(v.object({ sensitivity: v.number(), size: v.number() })),
  /** Memories of its own. */
  memories: v.number(),
  /** What it says of itself. */
  device: v.nullable(v.string()),
})
export type Capabilities = v.InferOutput<typeof Capabilities>

/** Orders that the desk itself gives to a device; they come from no page. */
export type InnerOrderName = 'goTo' | 'light' | 'freeze' | 'keepWithin' | 'keepOnLeash'

/** Does it report nothing of where it stands? */
export const isBlind = ({ position }: Capabilities): boolean => !position.panTilt && !position.zoom

export const can = (able: Capabilities | null, order: OrderName | InnerOrderName): boolean =>
  able?.orders.includes(order) ?? false
