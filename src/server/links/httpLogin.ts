/** HTTP logins of RFC 7617 (basic) and RFC 7616 (digest, MD5 and SHA-256). */
import { createHash, randomBytes } from 'node:crypto'

interface Login {
  user: string
  password: string
}

export function basicHeader({ user, password }: Login): string {
  return `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}`
}

export function challengeFields(challenge: string): Record<string, string> {
  const fields: Record<string, string> = {}
  for (const [, name, quoted, plain] of challenge.matchAll(/(\w+)=(?:"([^"]*)"|([^\s,]+))/g)) {
    fields[name!.toLowerCase()] = quoted ?? plain ?? ''
  }
  return fields
}

/**
 * @param challenge the WWW-Authenticate header, "Digest realm=..."
 * @param uses how often its nonce has been answered, with this answer
 * @param cnonce what makes our answer another each time
 */
export function digestHeader(
  challenge: string,
  login: Login,
  method: string,
  uri: string,
  uses = 1,
  cnonce = randomBytes(8).toString('hex'),
): string {
  const { realm = '', nonce = '', opaque, qop = '', algorithm = 'MD5' } = challengeFields(challenge)
  const name = /^sha-256/i.test(algorithm) ? 'sha256' : 'md5'
  const hash = (text: string) => createHash(name).update(text).digest('hex')
  const secret = hash(`${login.user}:${realm}:${login.password}`)
  const ha1 = /-sess$/i.test(algorithm) ? hash(`${secret}:${nonce}:${cnonce}`) : secret
  const ha2 = hash(`${method}:${uri}`)
  const nc = uses.toString(16).padStart(8, '0')
  const auth = qop.split(',').some((q) => q.trim() === 'auth')
  const response = auth ? hash(`${ha1}:${nonce}:${nc}:${cnonce}:auth:${ha2}`) : hash(`${ha1}:${nonce}:${ha2}`)
  const parts = [
    `username="${login.user.replace(/["\\]/g, '\\$&')}"`,
    `realm="${realm}"`,
    `nonce="${nonce}"`,
    `uri="${uri}"`,
    `algorithm=${algorithm}`,
    `response="${response}"`,
  ]
  if (auth) parts.push('qop=auth', `nc=${nc}`, `cnonce="${cnonce}"`)
  if (opaque !== undefined) parts.push(`opaque="${opaque}"`)
  return `Digest ${parts.join(', ')}`
}

/** The challenges of the answer's WWW-Authenticate headers, one by one: several may stand in one header. */
function challengesIn(headers: readonly string[]): string[] {
  return headers.flatMap((header) => header.split(/,\s*(?=(?:digest|basic|bearer|negotiate|ntlm)\b(?!=))/i))
}

export const asksDigest = (headers: readonly string[]): boolean =>
  challengesIn(headers).some((challenge) => /^\s*digest\s/i.test(challenge))

/**
 * Answers the safest of the challenges.
 * @param basicToo false: the password is never sent in the open
 * @param uses how often these challenges have been answered, with this answer
 * @returns null if there is none that can be answered
 */
export function loginHeader(
  headers: readonly string[],
  login: Login,
  method: string,
  uri: string,
  { basicToo = true, uses = 1 }: { basicToo?: boolean; uses?: number } = {},
): string | null {
  const all = challengesIn(headers)
  const digest = all.find((challenge) => /^\s*digest\s/i.test(challenge))
  if (digest) return digestHeader(digest, login, method, uri, uses)
  const basic = all.length === 0 || all.some((challenge) => /^\s*basic\b/i.test(challenge))
  return basicToo && basic ? basicHeader(login) : null
}
