/** Presets as an open list, CSV or JSON, both ways: in degrees and magnification, whatever the head's own units are. */
import Papa from 'papaparse'
import * as v from 'valibot'
import { PresetBoard } from '../presets/board'
import { FileRefused } from './venueFile'

export const PRESETS_FORMAT = 'steady-heron/presets'

const Finite = v.pipe(v.number('a number is missing'), v.finite())
const Whole = (most: number) => v.pipe(Finite, v.integer(), v.minValue(1), v.maxValue(most))

export const ListedPreset = v.object({
  /** The number of its camera. */
  camera: Whole(999),
  number: Whole(9999),
  name: v.pipe(v.string(), v.trim(), v.minLength(1, 'the name is missing'), v.maxLength(60)),
  section: v.optional(PresetBoard.section, ''),
  mark: v.optional(PresetBoard.mark, ''),
  panDeg: v.pipe(Finite, v.minValue(-720), v.maxValue(720)),
  tiltDeg: v.pipe(Finite, v.minValue(-360), v.maxValue(360)),
  /** Against the wide end. */
  magnification: v.pipe(Finite, v.minValue(1), v.maxValue(400)),
  focusAuto: v.boolean('auto focus is yes or no'),
  /** In the lens's own units; null if it is not known. */
  focus: v.nullable(Finite),
})
export type ListedPreset = v.InferOutput<typeof ListedPreset>

const PresetList = v.object({
  format: v.literal(PRESETS_FORMAT),
  version: v.literal(1),
  presets: v.pipe(v.array(ListedPreset), v.maxLength(20_000)),
})

const COLUMNS = [
  'camera',
  'number',
  'name',
  'section',
  'mark',
  'pan_deg',
  'tilt_deg',
  'magnification',
  'auto_focus',
  'focus',
] as const
const MOST_CHARACTERS = 8_000_000

export function presetsToJson(presets: readonly ListedPreset[]): string {
  return `${JSON.stringify({ format: PRESETS_FORMAT, version: 1, presets }, null, 2)}\n`
}

export function presetsToCsv(presets: readonly ListedPreset[]): string {
  const data = presets.map((p) => ({
    camera: p.camera,
    number: p.number,
    name: p.name,
    section: p.section,
    mark: p.mark,
    pan_deg: p.panDeg,
    tilt_deg: p.tiltDeg,
    magnification: p.magnification,
    auto_focus: p.focusAuto ? 'yes' : 'no',
    focus: p.focus ?? '',
  }))
  // Angles begin with a minus too: only texts are marked as such for a spreadsheet.
  const marked = data.map((row) => ({
    ...row,
    name: asText(row.name),
    section: asText(row.section),
    mark: asText(row.mark),
  }))
  return `${Papa.unparse({ fields: [...COLUMNS], data: marked }, { newline: '\r\n' })}\r\n`
}

const asText = (text: string) => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text)
const unmarked = (text: string) => (/^'[=+\-@\t\r]/.test(text) ? text.slice(1) : text)

function rowsOf(text: string): { line: number; value: unknown }[] {
  const { data, meta } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (name) => name.trim().toLowerCase(),
  })
  const missing = ['camera', 'number', 'name', 'pan_deg', 'tilt_deg'].find(
    (name) => !meta.fields?.includes(name),
  )
  if (missing)
    throw new FileRefused(`This is no list of presets: the column "${missing}" is missing in its first line.`)
  const number = (value: string | undefined) => ((value ?? '').trim() === '' ? undefined : Number(value))
  return data.map((row, i) => ({
    line: i + 2,
    value: {
      camera: number(row.camera),
      number: number(row.number),
      name: unmarked((row.name ?? '').trim()),
      section: unmarked((row.section ?? '').trim()),
      mark: unmarked((row.mark ?? '').trim()),
      panDeg: number(row.pan_deg),
      tiltDeg: number(row.tilt_deg),
      magnification: number(row.magnification) ?? 1,
      focusAuto: !/^(no|n|false|0|off)$/i.test((row.auto_focus ?? '').trim()),
      focus: number(row.focus) ?? null,
    },
  }))
}

function jsonRows(text: string): { line: number | null; value: unknown }[] {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    throw new FileRefused('This list is damaged: it cannot be read.')
  }
  const parsed = v.safeParse(PresetList, json)
  if (!parsed.success) {
    const [issue] = parsed.issues
    throw new FileRefused(`This list is refused: ${v.getDotPath(issue) ?? 'it'}: ${issue.message}`)
  }
  return parsed.output.presets.map((value) => ({ line: null, value }))
}

/** Reads either kind. @throws FileRefused with the line and what is wrong there */
export function presetsFromText(text: string): ListedPreset[] {
  if (text.length > MOST_CHARACTERS) throw new FileRefused('This list is too long.')
  const rows = text.trimStart().startsWith('{') ? jsonRows(text) : rowsOf(text)
  const seen = new Set<string>()
  return rows.map(({ line, value }) => {
    const where = line === null ? '' : `Line ${line}: `
    const parsed = v.safeParse(ListedPreset, value)
    if (!parsed.success) {
      const [issue] = parsed.issues
      throw new FileRefused(`${where}${v.getDotPath(issue) ?? 'value'}: ${issue.message}`)
    }
    const { camera, number } = parsed.output
    const key = `${camera} ${number}`
    if (seen.has(key)) throw new FileRefused(`${where}preset ${number} of camera ${camera} is there twice.`)
    seen.add(key)
    return parsed.output
  })
}
