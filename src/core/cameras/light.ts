/** Exposure and white balance of a camera, in its own units, as a preset keeps them if asked for. */
import * as v from 'valibot'

const Level = v.nullable(v.pipe(v.number(), v.finite()))

export const EXPOSURE_MODES = ['auto', 'manual', 'shutter', 'iris', 'bright'] as const
export const WHITE_BALANCES = ['auto', 'indoor', 'outdoor', 'onePush', 'manual'] as const

/** What a camera does not have, or its mode sets by itself, is null. */
export const Light = v.object({
  exposure: v.nullable(
    v.object({
      mode: v.picklist(EXPOSURE_MODES),
      shutter: Level,
      iris: Level,
      gain: Level,
      bright: Level,
    }),
  ),
  whiteBalance: v.nullable(v.object({ mode: v.picklist(WHITE_BALANCES), red: Level, blue: Level })),
})
export type Light = v.InferOutput<typeof Light>
export type Exposure = NonNullable<Light['exposure']>
export type WhiteBalance = NonNullable<Light['whiteBalance']>

const EXPOSURE_WORDS: Record<Exposure['mode'], string> = {
  auto: 'automatic exposure',
  manual: 'exposure by hand',
  shutter: 'shutter by hand',
  iris: 'iris by hand',
  bright: 'brightness by hand',
}
const WHITE_WORDS: Record<WhiteBalance['mode'], string> = {
  auto: 'automatic white balance',
  indoor: 'indoor white balance',
  outdoor: 'outdoor white balance',
  onePush: 'measured white balance',
  manual: 'white balance by hand',
}

/** As shown to the operator. */
export const lightWords = ({ exposure, whiteBalance }: Light): string =>
  [exposure && EXPOSURE_WORDS[exposure.mode], whiteBalance && WHITE_WORDS[whiteBalance.mode]]
    .filter(Boolean)
    .join(', ')
