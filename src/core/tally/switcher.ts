/** How a venue's switcher is reached: each thing that it can do is one line, so that any switcher can be described. */
import * as v from 'valibot'
import { lineProblem } from '../messages/line'

/** What may stand in each line. */
export const SWITCHER_LINES = {
  preview: ['input'],
  cut: [],
  fade: ['seconds', 'ms'],
  monitor: ['input'],
} as const
export type SwitcherAction = keyof typeof SWITCHER_LINES
export const SWITCHER_ACTIONS = Object.keys(SWITCHER_LINES) as SwitcherAction[]

const line = (action: SwitcherAction) =>
  v.nullable(
    v.pipe(
      v.string(),
      v.trim(),
      v.maxLength(500),
      v.check(
        (text) => lineProblem(text, SWITCHER_LINES[action]) === null,
        (issue) => lineProblem(issue.input, SWITCHER_LINES[action]) ?? '',
      ),
    ),
  )

export const Switcher = v.object({
  enabled: v.boolean(),
  /** Id of a camera -> its input, as the lines have it. */
  inputs: v.record(v.pipe(v.string(), v.uuid()), v.pipe(v.string(), v.trim(), v.maxLength(40))),
  preview: line('preview'),
  cut: line('cut'),
  fade: line('fade'),
  /** Puts the camera that is chosen on a monitor output. */
  monitor: line('monitor'),
  fadeSeconds: v.pipe(v.number(), v.minValue(0.1), v.maxValue(20)),
  /** Of the program picture as MJPEG; null: the picture of the camera on air is shown instead. */
  pictureUrl: v.nullable(v.pipe(v.string(), v.regex(/^https?:\/\/\S{1,400}$/))),
})
export type Switcher = v.InferOutput<typeof Switcher>
export const NO_SWITCHER: Switcher = {
  enabled: false,
  inputs: {},
  preview: null,
  cut: null,
  fade: null,
  monitor: null,
  fadeSeconds: 1,
  pictureUrl: null,
}
