/**
 * Which kept passwords stay when a camera's settings change: only those of which host, port and
 * scheme stay the same. Otherwise whoever changes an address would get the password sent there.
 */
import { parsedUrl } from '../safely'
import type { Connection, Picture, SecretName, Secrets } from './connection'
import type { SingleConnection } from './kinds'

export interface SecretOwner {
  connection: Connection
  picture: Picture
}

function linkTarget(connection: SingleConnection): string {
  const kind = connection.kind === 'commands' ? `commands ${connection.set}` : connection.kind
  if (connection.kind === 'visca-serial') return `${kind} ${connection.path}`
  const secure = 'secure' in connection && connection.secure ? ' secure' : ''
  return `${kind} ${connection.host.toLowerCase()} ${connection.port}${secure}`
}

function pictureTarget(picture: Picture): string {
  const stream = picture.kind === 'cut-stream' ? picture.stream : picture
  const url = 'url' in stream ? parsedUrl(stream.url) : null
  return url ? `${url.protocol}//${url.host}` : ''
}

/** What a password is sent to; '' where there is nothing. */
function targetOf(name: SecretName, { connection, picture }: SecretOwner): string {
  if (name === 'picture') return pictureTarget(picture)
  if (connection.kind === 'rig') return linkTarget(name === 'link' ? connection.head : connection.lens)
  return name === 'link' ? linkTarget(connection) : ''
}

export function keptSecrets(kept: Secrets, before: SecretOwner, after: SecretOwner): Secrets {
  const names = (Object.keys(kept) as SecretName[]).filter(
    (name) => targetOf(name, before) !== '' && targetOf(name, before) === targetOf(name, after),
  )
  return Object.fromEntries(names.map((name) => [name, kept[name]]))
}

/** Is the picture served by the same computer as the link? Then one password may do for both. */
export function sameComputer({ connection, picture }: SecretOwner): boolean {
  const stream = picture.kind === 'cut-stream' ? picture.stream : picture
  if (!('url' in stream) || !('host' in connection)) return false
  const [there, here] = [parsedUrl(stream.url), parsedUrl(`http://${connection.host}/`)]
  return there !== null && there.hostname === here?.hostname
}
