/**
 * The kinds of link to one device. A kind is an entry of this table, and of the server's table of protocols:
 * the settings, the form, the CSV and what a connection is called all follow from here.
 */
import * as v from 'valibot'
import { parsedUrl } from '../safely'

const Host = v.pipe(
  v.string(),
  v.trim(),
  v.minLength(1, 'Enter the address of the camera.'),
  v.maxLength(253),
  v.regex(/^[\w.-]+$/, 'An address has only letters, digits, dots and dashes.'),
  // Something like 10.0.0.300 would fail much later and far from here.
  v.check(
    (host) => parsedUrl(`http://${host}/`) !== null,
    'No computer can have this address. Check its digits.',
  ),
)
const Port = v.pipe(
  v.number('A port is a number from 1 to 65535.'),
  v.integer('A port is a number from 1 to 65535.'),
  v.minValue(1, 'A port is a number from 1 to 65535.'),
  v.maxValue(65535, 'A port is a number from 1 to 65535.'),
)

export const BAUDS = [9600, 19200, 38400, 57600, 115200] as const
export const SERIAL_FORMATS = ['8N1', '8E1', '8O1', '8N2'] as const

/** Left out where it is not so. */
const yes = (text: string) => /^(yes|true|1)$/i.test(text) || undefined

/**
 * Everything that may have to be said of a link, each once: its schema, its column in a CSV, and how it is read
 * from text. `usual` is used if nothing was given.
 */
export const LINK_FIELDS = {
  host: { schema: Host, column: 'host', read: (text: string) => text, usual: '' },
  port: {
    schema: Port,
    column: 'port',
    read: (text: string) => (text === '' ? Number.NaN : Number(text)),
    usual: '',
  },
  /** The port of this computer, as the system names it. */
  path: {
    schema: v.pipe(
      v.string(),
      v.trim(),
      v.minLength(1, 'Choose a serial port.'),
      v.maxLength(200),
      v.regex(/^[^\0\n]+$/),
    ),
    column: 'serial_port',
    read: (text: string) => text,
    usual: '',
  },
  baud: { schema: v.picklist(BAUDS), column: 'baud', read: Number, usual: '9600' },
  format: {
    schema: v.picklist(SERIAL_FORMATS),
    column: 'format',
    read: (text: string) => text,
    usual: '8N1',
  },
  /** Place in the chain, 1 is next to the computer. */
  address: {
    schema: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(7)),
    column: 'address',
    read: Number,
    usual: '1',
  },
  user: {
    schema: v.pipe(v.string(), v.trim(), v.maxLength(64)),
    column: 'user',
    read: (text: string) => text,
    usual: '',
  },
  /** Over HTTPS. */
  secure: { schema: v.optional(v.boolean()), column: 'https', read: yes, usual: '' },
  /** Its password may be sent as it is, without encryption: some devices take no other login. */
  openly: { schema: v.optional(v.boolean()), column: 'password_in_the_open', read: yes, usual: '' },
  /** The command set that describes the camera. */
  set: {
    schema: v.pipe(v.string(), v.maxLength(64)),
    column: 'command_set',
    read: (text: string) => text,
    usual: '',
  },
} as const
export type LinkField = keyof typeof LINK_FIELDS

interface KindTraits {
  words: string
  /** Null if there is none. */
  usualPort: number | null
  /** What carries it: two links over the same thing to the same address are the same device. */
  over: string
}

const kind = <const K extends string, const F extends readonly LinkField[]>(
  name: K,
  traits: KindTraits,
  fields: F,
) => {
  type Entries = { [N in F[number]]: (typeof LINK_FIELDS)[N]['schema'] }
  const entries = Object.fromEntries(fields.map((f) => [f, LINK_FIELDS[f].schema])) as unknown as Entries
  return {
    ...traits,
    fields: fields as readonly LinkField[],
    schema: v.object({ kind: v.literal(name), ...entries }),
  }
}

const NETWORK = ['host', 'port'] as const

export const KINDS = {
  /** VISCA with numbered packets. */
  'visca-udp': kind('visca-udp', { words: 'VISCA over IP', usualPort: 52381, over: 'visca-udp' }, NETWORK),
  /** VISCA packets alone. */
  'visca-udp-raw': kind(
    'visca-udp-raw',
    { words: 'VISCA, raw UDP', usualPort: 1259, over: 'visca-udp-raw' },
    NETWORK,
  ),
  'visca-tcp': kind('visca-tcp', { words: 'VISCA, raw TCP', usualPort: 5678, over: 'tcp' }, NETWORK),
  'visca-serial': kind('visca-serial', { words: 'VISCA, serial', usualPort: null, over: 'serial' }, [
    'path',
    'baud',
    'format',
    'address',
  ]),
  onvif: kind('onvif', { words: 'ONVIF', usualPort: 80, over: 'tcp' }, [
    ...NETWORK,
    'user',
    'secure',
    'openly',
  ]),
  /** A camera that the user described by a command set. */
  commands: kind('commands', { words: 'Another kind', usualPort: 80, over: 'commands' }, [
    ...NETWORK,
    'set',
    'user',
    'secure',
    'openly',
  ]),
} as const

export type SingleKind = keyof typeof KINDS
export const SINGLE_KINDS = Object.keys(KINDS) as SingleKind[]
export const isSingleKind = (text: string): text is SingleKind => Object.hasOwn(KINDS, text)

/** One link to one device. */
export const SingleConnection = v.variant('kind', [
  KINDS['visca-udp'].schema,
  KINDS['visca-udp-raw'].schema,
  KINDS['visca-tcp'].schema,
  KINDS['visca-serial'].schema,
  KINDS.onvif.schema,
  KINDS.commands.schema,
])
export type SingleConnection = v.InferOutput<typeof SingleConnection>

/** A link from texts, to be checked by its schema. @param text of a field, as it was typed or stands in a cell */
export function linkFromTexts(kind: string, text: (field: LinkField) => string): unknown {
  if (!isSingleKind(kind)) return { kind }
  const values = KINDS[kind].fields.map((field) => {
    const { read, usual } = LINK_FIELDS[field]
    return [field, read(text(field).trim() || usual)] as const
  })
  return { kind, ...Object.fromEntries(values.filter(([, value]) => value !== undefined)) }
}

/** The texts of a link, by field. */
export const textsOfLink = (link: SingleConnection): [LinkField, string][] =>
  KINDS[link.kind].fields.map((field) => [field, String((link as Record<string, unknown>)[field] ?? '')])
