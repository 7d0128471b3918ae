/**
 * How a camera is reached and where its picture comes from. One definition for the database, the API,
 * the venue file and the pages. Passwords are never part of it.
 */
import * as v from 'valibot'
import { Pace } from '../presets/pace'
import { parsedUrl } from '../safely'
import { Limits } from '../stick/speeds'
import { KINDS, SingleConnection } from './kinds'

const User = v.pipe(v.string(), v.trim(), v.maxLength(64))
/** Only these schemes are ever fetched, and no login stands in an address. */
const webAddress = (schemes: string) =>
  v.pipe(
    v.string(),
    v.trim(),
    v.maxLength(500),
    v.regex(
      new RegExp(`^(${schemes})://[^\\s@/?#]+(/\\S*)?$`),
      `The address begins with ${schemes}:// and holds no password.`,
    ),
    v.check((url) => parsedUrl(url) !== null, 'No computer can have this address. Check its digits.'),
  )

/** A rig: pan and tilt on one link, lens and power on another, seen as one camera. */
const Rig = v.object({ kind: v.literal('rig'), head: SingleConnection, lens: SingleConnection })

export const Connection = v.variant('kind', [...SingleConnection.options, Rig])
export type Connection = v.InferOutput<typeof Connection>
export type ConnectionKind = Connection['kind']

const Share = v.pipe(v.number(), v.minValue(0), v.maxValue(1))
/** A part of a picture, as shares of its width and height from its top left corner. */
export const Rect = v.pipe(
  v.object({ x: Share, y: Share, width: Share, height: Share }),
  v.check((r) => r.width >= 0.02 && r.height >= 0.02, 'The cut is too small.'),
  v.check((r) => r.x + r.width <= 1.0001 && r.y + r.height <= 1.0001, 'The cut reaches beyond the picture.'),
)
export type Rect = v.InferOutput<typeof Rect>

/** Its password may be sent as it is, without encryption. */
const Openly = v.optional(v.boolean())
const Mjpeg = v.object({ kind: v.literal('mjpeg'), url: webAddress('https?'), user: User, openly: Openly })
/** Single JPEGs, fetched again and again. */
const Jpeg = v.object({
  kind: v.literal('jpeg'),
  url: webAddress('https?'),
  user: User,
  openly: Openly,
  perSec: v.pipe(v.number(), v.minValue(0.1), v.maxValue(15)),
})
const Rtsp = v.object({ kind: v.literal('rtsp'), url: webAddress('rtsps?'), user: User })
export const Stream = v.variant('kind', [Mjpeg, Jpeg, Rtsp])
export type Stream = v.InferOutput<typeof Stream>

export const Picture = v.variant('kind', [
  v.object({ kind: v.literal('none') }),
  Mjpeg,
  Jpeg,
  Rtsp,
  /** Cut out of another camera's picture. */
  v.object({ kind: v.literal('cut-camera'), camera: v.pipe(v.string(), v.uuid()), rect: Rect }),
  /** Cut out of a picture that shows several, as a multiviewer gives it. */
  v.object({ kind: v.literal('cut-stream'), stream: Stream, rect: Rect }),
])
export type Picture = v.InferOutput<typeof Picture>

export const Mount = v.object({ upsideDown: v.boolean(), mirrored: v.boolean() })
export type Mount = v.InferOutput<typeof Mount>
export const UPRIGHT: Mount = { upsideDown: false, mirrored: false }

/** What each password is for: the link (of a rig: its head), the rig's lens, the picture. */
export const SECRET_NAMES = ['link', 'lens', 'picture'] as const
export type SecretName = (typeof SECRET_NAMES)[number]
const Password = v.pipe(v.string(), v.maxLength(128))
export const Secrets = v.partial(v.object({ link: Password, lens: Password, picture: Password }))
export type Secrets = v.InferOutput<typeof Secrets>

export const CameraSettings = v.object({
  number: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(999)),
  name: v.pipe(v.string(), v.trim(), v.minLength(1, 'Give the camera a name.'), v.maxLength(40)),
  enabled: v.boolean(),
  connection: Connection,
  headProfile: v.pipe(v.string(), v.maxLength(64)),
  picture: Picture,
  mount: Mount,
  /** The range in which it may be driven; null if none was set. */
  limits: v.optional(v.nullable(Limits), null),
  /** How its presets travel unless they say otherwise; null: quick. */
  pace: v.optional(v.nullable(Pace), null),
  /** It holds its picture while it travels to a preset, where it can. */
  holdPicture: v.optional(v.boolean(), false),
  /** New presets go into its memory of the same number too. */
  alsoInMemory: v.optional(v.boolean(), false),
  /** Its stick is sent as short moves that end by themselves, for a link that loses packets. */
  leash: v.optional(v.boolean(), false),
  /** Its head profile is known to describe it: until then its ends limit nothing. */
  headConfirmed: v.optional(v.boolean(), false),
  /** The camera's own page. */
  pageUrl: v.nullable(webAddress('https?')),
})
export type CameraSettings = v.InferOutput<typeof CameraSettings>

export const kindWords = ({ kind }: Connection): string =>
  kind === 'rig' ? 'Rig of two parts' : KINDS[kind].words

/** The address as shown to the operator. */
export function addressText(connection: Connection): string {
  switch (connection.kind) {
    case 'rig':
      return `${addressText(connection.head)} and ${addressText(connection.lens)}`
    case 'visca-serial':
      return `${connection.path}, address ${connection.address}`
    default:
      return `${connection.host}:${connection.port}`
  }
}

/** Where its links listen, as "host:port". */
export function originsOf(connection: Connection): string[] {
  if (connection.kind === 'rig') return [...originsOf(connection.head), ...originsOf(connection.lens)]
  return 'host' in connection ? [`${connection.host.toLowerCase()}:${connection.port}`] : []
}

/** Two with the same key would be the same device. */
export function deviceKeys(connection: Connection): string[] {
  if (connection.kind === 'rig') return [...deviceKeys(connection.head), ...deviceKeys(connection.lens)]
  if (connection.kind === 'visca-serial') return [`serial ${connection.path} ${connection.address}`]
  return [`${KINDS[connection.kind].over} ${connection.host.toLowerCase()}:${connection.port}`]
}
