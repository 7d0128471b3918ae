/** The list of cameras as CSV, both ways. A rig has its lens in the columns that begin with lens_. */
import Papa from 'papaparse'
import * as v from 'valibot'
import { CameraSettings, type Connection, type Picture, UPRIGHT } from '../cameras/connection'
import { LINK_FIELDS, linkFromTexts, type SingleConnection, textsOfLink } from '../cameras/kinds'
import { DEFAULT_HEAD } from '../heads/registry'
import { paceText, QUICK } from '../presets/pace'
import { FileRefused } from './venueFile'

const LINK_COLUMNS = ['kind', ...Object.values(LINK_FIELDS).map(({ column }) => column)]
const COLUMNS = [
  'number',
  'name',
  'on',
  ...LINK_COLUMNS,
  ...LINK_COLUMNS.map((name) => `lens_${name}`),
  'head_profile',
  'picture_kind',
  'picture_url',
  'picture_user',
  'picture_password_in_the_open',
  'picture_per_sec',
  'upside_down',
  'mirrored',
  'page',
  'pace',
  'hold_picture',
  'also_in_memory',
  'leash',
  'head_confirmed',
]

type Row = Record<string, string>

const MOST_CHARACTERS = 2_000_000
const MOST_ROWS = 500
const USUAL_PER_SEC = 4

function linkRow(link: SingleConnection, prefix: string): Row {
  const cells = textsOfLink(link).map(([field, text]) => [prefix + LINK_FIELDS[field].column, text])
  return { [`${prefix}kind`]: link.kind, ...Object.fromEntries(cells) }
}

const yes = (value: boolean) => (value ? 'yes' : 'no')

function rowOf(c: CameraSettings): Row {
  const { connection, picture } = c
  const links: Row =
    connection.kind === 'rig'
      ? { ...linkRow(connection.head, ''), ...linkRow(connection.lens, 'lens_') }
      : linkRow(connection, '')
  const url: Row = 'url' in picture ? { picture_url: picture.url, picture_user: picture.user } : {}
  if ('openly' in picture && picture.openly) url.picture_password_in_the_open = 'yes'
  if (picture.kind === 'jpeg') url.picture_per_sec = String(picture.perSec)
  return {
    number: String(c.number),
    name: c.name,
    on: yes(c.enabled),
    ...links,
    head_profile: c.headProfile,
    // A cut is left as it is on import: it says more than a row can.
    picture_kind: picture.kind.startsWith('cut-') ? 'keep' : picture.kind,
    ...url,
    upside_down: yes(c.mount.upsideDown),
    mirrored: yes(c.mount.mirrored),
    page: c.pageUrl ?? '',
    pace: c.pace ? paceText(c.pace) || 'quick' : '',
    hold_picture: yes(c.holdPicture),
    also_in_memory: yes(c.alsoInMemory),
    leash: yes(c.leash),
    head_confirmed: yes(c.headConfirmed),
  }
}

export function camerasToCsv(cameras: readonly CameraSettings[]): string {
  // A cell that a spreadsheet would read as a formula is marked as text.
  return `${Papa.unparse({ fields: COLUMNS, data: cameras.map(rowOf) }, { newline: '\r\n', escapeFormulae: true })}\r\n`
}

const linkOf = (row: Row, prefix: string): unknown =>
  linkFromTexts((row[`${prefix}kind`] ?? '').trim(), (field) => row[prefix + LINK_FIELDS[field].column] ?? '')

function flag(text: string | undefined, fallback: boolean): boolean | string {
  const word = (text ?? '').trim().toLowerCase()
  if (word === '') return fallback
  if (['yes', 'y', 'true', '1', 'on'].includes(word)) return true
  return ['no', 'n', 'false', '0', 'off'].includes(word) ? false : word
}

/** "quick", "4 s" or "2.5 °/s"; empty: none of its own. Anything else is passed on, to be refused. */
function paceFrom(text: string): unknown {
  const [, figure, unit] = /^([\d.,]+)\s*(s|°\/s)$/.exec(text) ?? []
  if (text === '') return null
  if (text === 'quick') return QUICK
  const value = Number((figure ?? '').replace(',', '.'))
  if (unit === 's') return { kind: 'timed', seconds: value }
  return unit ? { kind: 'steady', degPerSec: value } : text
}

/** Columns that a list may leave out, and the setting that then stays as it is. */
const HABITS = {
  pace: 'pace',
  hold_picture: 'holdPicture',
  also_in_memory: 'alsoInMemory',
  leash: 'leash',
  head_confirmed: 'headConfirmed',
} as const satisfies Record<string, keyof CameraSettings>
export type Habit = (typeof HABITS)[keyof typeof HABITS]

/** A camera of a CSV. */
export interface CsvCamera {
  settings: CameraSettings
  /** Its present picture is kept. */
  keepPicture: boolean
  /** The list says nothing about these. */
  keepHabits: readonly Habit[]
}

function cameraOf(row: Row): { settings: unknown; keepPicture: boolean } {
  const pictureKind = (row.picture_kind ?? '').trim() || 'none'
  const keepPicture = pictureKind === 'keep'
  const user = (row.picture_user ?? '').trim()
  const url = (row.picture_url ?? '').trim()
  const openly = flag(row.picture_password_in_the_open, false) || undefined
  const perSec = Number((row.picture_per_sec ?? '').trim() || USUAL_PER_SEC)
  const picture: unknown =
    pictureKind === 'none' || keepPicture
      ? ({ kind: 'none' } satisfies Picture)
      : { kind: pictureKind, url, user, ...(openly && { openly }), ...(pictureKind === 'jpeg' && { perSec }) }
  const connection: unknown =
    (row.lens_kind ?? '').trim() === ''
      ? linkOf(row, '')
      : { kind: 'rig', head: linkOf(row, ''), lens: linkOf(row, 'lens_') }
  const head = (row.head_profile ?? '').trim()
  return {
    keepPicture,
    settings: {
      number: Number(row.number),
      name: (row.name ?? '').trim(),
      enabled: flag(row.on, true),
      connection: connection as Connection,
      headProfile: head || DEFAULT_HEAD,
      picture,
      mount: {
        upsideDown: flag(row.upside_down, UPRIGHT.upsideDown),
        mirrored: flag(row.mirrored, UPRIGHT.mirrored),
      },
      pageUrl: (row.page ?? '').trim() || null,
      pace: paceFrom((row.pace ?? '').trim().toLowerCase()),
      holdPicture: flag(row.hold_picture, false),
      alsoInMemory: flag(row.also_in_memory, false),
      leash: flag(row.leash, false),
      headConfirmed: flag(row.head_confirmed, false),
    },
  }
}

/** Removes the mark that keeps a spreadsheet from reading a formula. */
const unmarked = (row: Row): Row =>
  Object.fromEntries(
    Object.entries(row).map(([name, value]) => [name, /^'[=+\-@\t\r]/.test(value) ? value.slice(1) : value]),
  )

/** @throws FileRefused with the line and what is wrong there */
export function camerasFromCsv(text: string): CsvCamera[] {
  if (text.length > MOST_CHARACTERS) throw new FileRefused('This list is too long.')
  const { data, meta } = Papa.parse<Row>(text.replace(/^\uFEFF/, ''), {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (name) => name.trim().toLowerCase(),
  })
  const missing = ['number', 'name', 'kind'].filter((name) => !meta.fields?.includes(name))
  if (missing.length > 0)
    throw new FileRefused(
      `This is no list of cameras: the column "${missing[0]}" is missing in its first line.`,
    )
  if (data.length > MOST_ROWS) throw new FileRefused(`This list has more than ${MOST_ROWS} cameras.`)
  const keepHabits = Object.entries(HABITS).flatMap(([column, habit]) =>
    meta.fields?.includes(column) ? [] : [habit],
  )
  const seen = new Set<number>()
  return data.map((row, i) => {
    const { settings, keepPicture } = cameraOf(unmarked(row))
    const parsed = v.safeParse(CameraSettings, settings)
    const line = i + 2
    if (!parsed.success) {
      const [issue] = parsed.issues
      throw new FileRefused(`Line ${line}: ${v.getDotPath(issue) ?? 'value'}: ${issue.message}`)
    }
    if (seen.has(parsed.output.number))
      throw new FileRefused(`Line ${line}: number ${parsed.output.number} is there twice.`)
    seen.add(parsed.output.number)
    return { settings: parsed.output, keepPicture, keepHabits }
  })
}
