/** The result of trying a camera. One definition for the API and the pages. */
import * as v from 'valibot'
import { Connection, Picture } from '../../core/cameras/connection'
import type { Version } from '../../core/heads/version'

export const ProblemCode = v.picklist([
  'name-unknown',
  'no-route',
  'nothing-listens',
  'no-answer',
  'not-this-protocol',
  'login',
  'clock',
  'open-password',
  'certificate',
  'port-missing',
  'chain',
  'taken',
  'other',
])
export type ProblemCode = v.InferOutput<typeof ProblemCode>

export const Offer = v.object({ label: v.string(), connection: Connection })
export type Offer = v.InferOutput<typeof Offer>

export const Outcome = v.object({
  ok: v.boolean(),
  /** Null if it answers well. */
  problem: v.nullable(v.object({ code: ProblemCode, text: v.string() })),
  /** Worth knowing although it answers: standby, a wrong clock, a password that everybody knows. */
  remarks: v.array(v.string()),
  /** Other ways that answer at the same address. */
  offers: v.array(Offer),
  /** What it says of itself. */
  device: v.nullable(v.string()),
  roundTripMs: v.nullable(v.number()),
  /** Pictures that it offers. */
  pictures: v.array(Picture),
  /** The head profile that its version names; null if it names none that is known. */
  head: v.nullable(v.object({ id: v.string(), name: v.string() })),
})
export type Outcome = v.InferOutput<typeof Outcome>

export class Trouble extends Error {
  constructor(
    readonly code: ProblemCode,
    text: string,
  ) {
    super(text)
  }
}

export interface Success {
  device: string | null
  /** Of a VISCA device that told it. */
  version?: Version | null
  roundTripMs: number | null
  remarks: string[]
  pictures: Outcome['pictures']
}
