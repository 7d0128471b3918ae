/** A camera while it is being entered: texts as they are typed, and what they make when they are right. */
import * as v from 'valibot'
import {
  CameraSettings,
  type Connection,
  type ConnectionKind,
  type Picture,
  type Rect,
  type Secrets,
  type Stream,
  UPRIGHT,
} from '../../core/cameras/connection'
import {
  KINDS,
  LINK_FIELDS,
  linkFromTexts,
  SINGLE_KINDS,
  type SingleConnection,
  type SingleKind,
  textsOfLink,
} from '../../core/cameras/kinds'
import { DEFAULT_HEAD } from '../../core/heads/registry'
import type { CameraView } from '../../server/api'

export interface LinkDraft {
  kind: SingleKind
  host: string
  port: string
  path: string
  baud: string
  format: string
  address: string
  user: string
  /** Null: not touched, so that a kept one stays. */
  password: string | null
  set: string
  /** "true" where it is so. */
  secure: string
  openly: string
}

export type PictureKind = Picture['kind']

export interface PictureDraft {
  kind: PictureKind
  url: string
  user: string
  password: string | null
  openly: boolean
  perSec: string
  /** Of a cut: the stream's kind, the camera, and the part in percent. */
  streamKind: 'mjpeg' | 'jpeg' | 'rtsp'
  camera: string
  x: string
  y: string
  width: string
  height: string
}

export interface Draft {
  number: string
  name: string
  enabled: boolean
  rig: boolean
  link: LinkDraft
  lens: LinkDraft
  headProfile: string
  picture: PictureDraft
  upsideDown: boolean
  mirrored: boolean
  /** Set on the Desk; passed through. */
  limits: CameraSettings['limits']
  pace: CameraSettings['pace']
  holdPicture: boolean
  alsoInMemory: boolean
  leash: boolean
  headConfirmed: boolean
  pageUrl: string
}

const EMPTY_LINK: LinkDraft = {
  kind: 'visca-udp',
  host: '',
  port: String(KINDS['visca-udp'].usualPort),
  path: '',
  baud: LINK_FIELDS.baud.usual,
  format: LINK_FIELDS.format.usual,
  address: LINK_FIELDS.address.usual,
  user: '',
  password: null,
  set: '',
  secure: '',
  openly: '',
}

const EMPTY_PICTURE: PictureDraft = {
  kind: 'none',
  url: '',
  user: '',
  password: null,
  openly: false,
  perSec: '4',
  streamKind: 'mjpeg',
  camera: '',
  x: '0',
  y: '0',
  width: '50',
  height: '50',
}

export const linkDraft = (connection: SingleConnection): LinkDraft => ({
  ...EMPTY_LINK,
  ...Object.fromEntries(textsOfLink(connection)),
  kind: connection.kind,
})

const percent = (share: number) => String(Math.round(share * 1000) / 10)

const openlyOf = (stream: Stream) => 'openly' in stream && stream.openly === true

const perSecOf = (stream: Stream) => (stream.kind === 'jpeg' ? String(stream.perSec) : EMPTY_PICTURE.perSec)

export function pictureDraft(picture: Picture): PictureDraft {
  const cut = (rect: Rect) => ({
    x: percent(rect.x),
    y: percent(rect.y),
    width: percent(rect.width),
    height: percent(rect.height),
  })
  switch (picture.kind) {
    case 'none':
      return EMPTY_PICTURE
    case 'cut-camera':
      return { ...EMPTY_PICTURE, kind: picture.kind, camera: picture.camera, ...cut(picture.rect) }
    case 'cut-stream': {
      const { stream } = picture
      const { url, user, kind: streamKind } = stream
      const perSec = perSecOf(stream)
      const openly = openlyOf(stream)
      return {
        ...EMPTY_PICTURE,
        kind: picture.kind,
        url,
        user,
        openly,
        streamKind,
        perSec,
        ...cut(picture.rect),
      }
    }
    default:
      return {
        ...EMPTY_PICTURE,
        kind: picture.kind,
        url: picture.url,
        user: picture.user,
        openly: openlyOf(picture),
        perSec: perSecOf(picture),
      }
  }
}

export function emptyDraft(number: number, connection?: SingleConnection, name = ''): Draft {
  return {
    number: String(number),
    name,
    enabled: true,
    rig: false,
    link: connection ? linkDraft(connection) : EMPTY_LINK,
    lens: EMPTY_LINK,
    headProfile: DEFAULT_HEAD,
    picture: EMPTY_PICTURE,
    upsideDown: UPRIGHT.upsideDown,
    mirrored: UPRIGHT.mirrored,
    limits: null,
    pace: null,
    holdPicture: false,
    alsoInMemory: false,
    leash: false,
    headConfirmed: false,
    pageUrl: '',
  }
}

export function draftOf(view: CameraView): Draft {
  const { connection } = view
  const rig = connection.kind === 'rig'
  return {
    number: String(view.number),
    name: view.name,
    enabled: view.enabled,
    rig,
    link: linkDraft(rig ? connection.head : connection),
    lens: rig ? linkDraft(connection.lens) : EMPTY_LINK,
    headProfile: view.headProfile,
    picture: pictureDraft(view.picture),
    upsideDown: view.mount.upsideDown,
    mirrored: view.mount.mirrored,
    limits: view.limits,
    pace: view.pace,
    holdPicture: view.holdPicture,
    alsoInMemory: view.alsoInMemory,
    leash: view.leash,
    headConfirmed: view.headConfirmed,
    pageUrl: view.pageUrl ?? '',
  }
}

/** What a kind needs when it is chosen: its usual port, unless the user typed another. */
export function withKind(link: LinkDraft, kind: SingleKind): LinkDraft {
  const usual = SINGLE_KINDS.map((other) => String(KINDS[other].usualPort ?? ''))
  const untouched = link.port === '' || usual.includes(link.port)
  return { ...link, kind, port: untouched ? String(KINDS[kind].usualPort ?? link.port) : link.port }
}

/** The usual port follows, unless the user typed another. */
export const withSecure = (link: LinkDraft, on: boolean): LinkDraft => {
  const [from, to] = on ? ['80', '443'] : ['443', '80']
  return { ...link, secure: String(on), port: link.port === from ? to! : link.port }
}

const number = (text: string) => (text.trim() === '' ? Number.NaN : Number(text.replace(',', '.')))

/** Rounded, so that a stored part comes out as it went in. */
const shareOf = (percent: string) => Math.round(number(percent) * 1e4) / 1e6

const connectionOf = (link: LinkDraft): unknown => linkFromTexts(link.kind, (field) => link[field])

function pictureOf(p: PictureDraft): unknown {
  const rect = {
    x: shareOf(p.x),
    y: shareOf(p.y),
    width: shareOf(p.width),
    height: shareOf(p.height),
  }
  const web = { url: p.url, user: p.user, perSec: number(p.perSec), ...(p.openly ? { openly: true } : {}) }
  switch (p.kind) {
    case 'none':
      return { kind: p.kind }
    case 'cut-camera':
      return { kind: p.kind, camera: p.camera, rect }
    case 'cut-stream':
      return { kind: p.kind, stream: { kind: p.streamKind, ...web }, rect }
    default:
      return { kind: p.kind, ...web }
  }
}

export type Problems = Record<string, string>

export interface Made {
  settings: CameraSettings | null
  /** The connection alone, where that is right: it can be tried before the rest is there. */
  connection: Connection | null
  secrets: Secrets
  /** What is wrong, by the path of the value. */
  problems: Problems
}

function secretsOf({ rig, link, lens, picture }: Draft): Secrets {
  return {
    ...(link.password !== null ? { link: link.password } : {}),
    ...(rig && lens.password !== null ? { lens: lens.password } : {}),
    ...(picture.password !== null ? { picture: picture.password } : {}),
  }
}

export function make(draft: Draft): Made {
  const head = connectionOf(draft.link)
  const connection = draft.rig ? { kind: 'rig', head, lens: connectionOf(draft.lens) } : head
  const parsed = v.safeParse(CameraSettings, {
    number: number(draft.number),
    name: draft.name,
    enabled: draft.enabled,
    connection,
    headProfile: draft.headProfile,
    picture: pictureOf(draft.picture),
    mount: { upsideDown: draft.upsideDown, mirrored: draft.mirrored },
    limits: draft.limits,
    pace: draft.pace,
    holdPicture: draft.holdPicture,
    alsoInMemory: draft.alsoInMemory,
    leash: draft.leash,
    headConfirmed: draft.headConfirmed,
    pageUrl: draft.pageUrl.trim() || null,
  })
  const problems: Problems = {}
  for (const issue of parsed.issues ?? []) problems[v.getDotPath(issue) ?? ''] ??= issue.message
  const wrongLink = Object.keys(problems).some((path) => path.startsWith('connection'))
  return {
    settings: parsed.success ? parsed.output : null,
    connection: wrongLink ? null : (connection as Connection),
    secrets: secretsOf(draft),
    problems,
  }
}

export const kindOf = (draft: Draft): ConnectionKind => (draft.rig ? 'rig' : draft.link.kind)
