/** The list of cameras as CSV, both ways. A rig has its lens in the columns that begin with lens_. */
import Papa from 'papaparse'
import * as v from 'valibot'
import {
  CameraSettings,
  type Connection,
  type Picture,
  type SingleConnection,
  UPRIGHT,
} from '../cameras/connection'
import { DEFAULT_HEAD, isHeadProfile } from '../heads/registry'
import { FileRefused } from './venueFile'

const LINK_COLUMNS = [
  'kind',
  'host',
  'port',
  'serial_port',
  'baud',
  'format',
  'address',
  'command_set',
  'user',
] as const
const COLUMNS = [
  'number',
  'name',
  'on',
  ...LINK_COLUMNS,
  ...LINK_COLUMNS.map((name) => `lens_${name}` as const),
  'head_profile',
  'picture_kind',
  'picture_url',
  'picture_user',
  'upside_down',
  'mirrored',
  'page',
]

type Row = Record<string, string>

const MOST_CHARACTERS = 2_000_000
const MOST_ROWS = 500

function linkRow(c: SingleConnection, prefix: string): Row {
  const out: Row = { kind: c.kind }
  if ('host' in c) Object.assign(out, { host: c.host, port: String(c.port) })
  if (c.kind === 'visca-serial')
    Object.assign(out, {
      serial_port: c.path,
      baud: String(c.baud),
      format: c.format,
      address: String(c.address),
    })
  if (c.kind === 'commands') out.command_set = c.set
  if ('user' in c) out.user = c.user
  return Object.fromEntries(Object.entries(out).map(([name, value]) => [prefix + name, value]))
}

const yes = (value: boolean) => (value ? 'yes' : 'no')

function rowOf(c: CameraSettings): Row {
  const { connection, picture } = c
  const links: Row =
    connection.kind === 'rig'
      ? { ...linkRow(connection.head, ''), ...linkRow(connection.lens, 'lens_') }
      : linkRow(connection, '')
  const url: Row = 'url' in picture ? { picture_url: picture.url, picture_user: picture.user } : {}
  return {
    number: String(c.number),
    name: c.name,
    on: yes(c.enabled),
    ...links,
    head_profile: c.headProfile,
    // A cut is kept as it is on the way back: it says more than a row can.
    picture_kind: picture.kind.startsWith('cut-') ? 'keep' : picture.kind,
    ...url,
    upside_down: yes(c.mount.upsideDown),
    mirrored: yes(c.mount.mirrored),
    page: c.pageUrl ?? '',
  }
}

export function camerasToCsv(cameras: readonly CameraSettings[]): string {
  // A cell that a spreadsheet would take for a formula is marked as text.
  return `${Papa.unparse({ fields: COLUMNS, data: cameras.map(rowOf) }, { newline: '\r\n', escapeFormulae: true })}\r\n`
}

function linkOf(row: Row, prefix: string): unknown {
  const at = (name: (typeof LINK_COLUMNS)[number]) => (row[prefix + name] ?? '').trim()
  const kind = at('kind')
  const host = { host: at('host'), port: Number(at('port')) }
  switch (kind) {
    case 'visca-serial':
      return {
        kind,
        path: at('serial_port'),
        baud: Number(at('baud') || 9600),
        format: at('format') || '8N1',
        address: Number(at('address') || 1),
      }
    case 'onvif':
      return { kind, ...host, user: at('user') }
    case 'commands':
      return { kind, ...host, set: at('command_set'), user: at('user') }
    default:
      return { kind, ...host }
  }
}

function flag(text: string | undefined, fallback: boolean): boolean | string {
  const word = (text ?? '').trim().toLowerCase()
  if (word === '') return fallback
  if (['yes', 'y', 'true', '1', 'on'].includes(word)) return true
  return ['no', 'n', 'false', '0', 'off'].includes(word) ? false : word
}

/** A camera of a CSV; its picture is null where the one it has is to be kept. */
export interface CsvCamera {
  settings: CameraSettings
  keepPicture: boolean
}

function cameraOf(row: Row): { settings: unknown; keepPicture: boolean } {
  const pictureKind = (row.picture_kind ?? '').trim() || 'none'
  const keepPicture = pictureKind === 'keep'
  const user = (row.picture_user ?? '').trim()
  const url = (row.picture_url ?? '').trim()
  const picture: unknown =
    pictureKind === 'none' || keepPicture
      ? ({ kind: 'none' } satisfies Picture)
      : { kind: pictureKind, url, user, ...(pictureKind === 'jpeg' ? { perSec: 4 } : {}) }
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
      headProfile: isHeadProfile(head) ? head : DEFAULT_HEAD,
      picture,
      mount: {
        upsideDown: flag(row.upside_down, UPRIGHT.upsideDown),
        mirrored: flag(row.mirrored, UPRIGHT.mirrored),
      },
      pageUrl: (row.page ?? '').trim() || null,
    },
  }
}

/** Takes back the mark before what a spreadsheet would take for a formula. */
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
    return { settings: parsed.output, keepPicture }
  })
}
