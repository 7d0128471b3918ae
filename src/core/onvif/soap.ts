/** SOAP 1.2 as ONVIF uses it: envelopes, the login header, and faults as typed errors. */
import { XMLParser } from 'fast-xml-parser'

const SOAP = 'http://www.w3.org/2003/05/soap-envelope'
const WSSE = 'http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-secext-1.0.xsd'
const WSU = 'http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd'
const DIGEST_TYPE =
  'http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-username-token-profile-1.0#PasswordDigest'
const NONCE_TYPE =
  'http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-soap-message-security-1.0#Base64Binary'

export const NAMESPACES = {
  tds: 'http://www.onvif.org/ver10/device/wsdl',
  trt: 'http://www.onvif.org/ver10/media/wsdl',
  tr2: 'http://www.onvif.org/ver20/media/wsdl',
  tptz: 'http://www.onvif.org/ver20/ptz/wsdl',
  timg: 'http://www.onvif.org/ver20/imaging/wsdl',
  tt: 'http://www.onvif.org/ver10/schema',
  ter: 'http://www.onvif.org/ver10/error',
} as const

export type FaultKind =
  | 'not-authorized'
  | 'clock'
  | 'no-profile'
  | 'no-token'
  | 'invalid-value'
  | 'not-supported'
  | 'other'

export class OnvifFault extends Error {
  constructor(
    readonly kind: FaultKind,
    message: string,
  ) {
    super(message)
  }
}

/** Far more than any device sends, characters. */
const MAX_XML = 1_000_000

const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  removeNSPrefix: true,
  parseTagValue: false,
  parseAttributeValue: false,
  trimValues: true,
  // A document type, with entities of its own, has no place in SOAP.
  processEntities: true,
  // This also reads numeric entities, which any camera may write.
  htmlEntities: true,
  ignoreDeclaration: true,
})

export type Node = { [name: string]: Node | Node[] | string | undefined }

export function escapeXml(text: string): string {
  return text.replace(/[<>&"']/g, (c) => `&#${c.charCodeAt(0)};`)
}

/** What a login needs; the digest is Base64(SHA-1(nonce + created + password)). */
export interface Login {
  user: string
  nonceBase64: string
  /** UTC, ISO 8601. */
  created: string
  digestBase64: string
}

function securityHeader({ user, nonceBase64, created, digestBase64 }: Login): string {
  return `<s:Header><w:Security xmlns:w="${WSSE}" xmlns:u="${WSU}" s:mustUnderstand="1"><w:UsernameToken><w:Username>${escapeXml(user)}</w:Username><w:Password Type="${DIGEST_TYPE}">${digestBase64}</w:Password><w:Nonce EncodingType="${NONCE_TYPE}">${nonceBase64}</w:Nonce><u:Created>${created}</u:Created></w:UsernameToken></w:Security></s:Header>`
}

/** @param body the request's own XML; it may use the prefixes of NAMESPACES */
export function envelope(body: string, login: Login | null = null): string {
  const spaces = Object.entries(NAMESPACES)
    .map(([prefix, uri]) => ` xmlns:${prefix}="${uri}"`)
    .join('')
  return `<?xml version="1.0" encoding="UTF-8"?><s:Envelope xmlns:s="${SOAP}"${spaces}>${login ? securityHeader(login) : ''}<s:Body>${body}</s:Body></s:Envelope>`
}

export function faultEnvelope(code: string, subcode: string, reason: string): string {
  return envelope(
    `<s:Fault><s:Code><s:Value>s:${code}</s:Value><s:Subcode><s:Value>${subcode}</s:Value></s:Subcode></s:Code><s:Reason><s:Text xml:lang="en">${escapeXml(reason)}</s:Text></s:Reason></s:Fault>`,
  )
}

const isNode = (value: unknown): value is Node =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** The first child of a name; undefined where there is none. */
export function child(node: Node | undefined, ...path: string[]): Node | undefined {
  let at: Node | undefined = node
  for (const name of path) {
    const next: Node | Node[] | string | undefined = at?.[name]
    const first = Array.isArray(next) ? next[0] : next
    at = isNode(first) ? first : undefined
  }
  return at
}

export function children(node: Node | undefined, name: string): Node[] {
  const found = node?.[name]
  if (Array.isArray(found)) return found.filter(isNode)
  return isNode(found) ? [found] : []
}

/** The text of an element, or of one with attributes; empty if there is none. */
export function textOf(node: Node | undefined, ...path: string[]): string {
  const parent = child(node, ...path.slice(0, -1))
  const last = path[path.length - 1]
  const value = last === undefined ? undefined : parent?.[last]
  const first = Array.isArray(value) ? value[0] : value
  if (typeof first === 'string') return first
  const inner = isNode(first) ? first['#text'] : undefined
  return typeof inner === 'string' ? inner : ''
}

export interface Message {
  header: Node | undefined
  body: Node
}

/** @throws OnvifFault if it is no SOAP message */
export function parseEnvelope(xml: string): Message {
  const bad = () => new OnvifFault('other', 'What answers there does not speak ONVIF.')
  if (xml.length > MAX_XML || /<!DOCTYPE/i.test(xml.slice(0, 2000))) throw bad()
  let root: unknown
  try {
    root = parser.parse(xml)
  } catch {
    throw bad()
  }
  const top = isNode(root) ? child(root, 'Envelope') : undefined
  if (!top) throw bad()
  const body = child(top, 'Body')
  return { header: child(top, 'Header'), body: body ?? {} }
}

const KINDS: readonly [RegExp, FaultKind][] = [
  [/MessageExpired|InvalidTimestamp|Timestamp/i, 'clock'],
  [/NotAuthorized|FailedAuthentication|InvalidSecurity|OperationProhibited/i, 'not-authorized'],
  [/NoProfile/i, 'no-profile'],
  [/NoToken/i, 'no-token'],
  [/InvalidArg|InvalidPosition|InvalidVelocity|InvalidTranslation/i, 'invalid-value'],
  [/ActionNotSupported|NotSupported|OptionalActionNotImplemented/i, 'not-supported'],
]

/** The fault that a message carries; null if it carries none. */
export function faultOf({ body }: Message): OnvifFault | null {
  const fault = child(body, 'Fault')
  if (!fault) return null
  const codes: string[] = []
  for (let at = child(fault, 'Code'); at; at = child(at, 'Subcode')) codes.push(textOf(at, 'Value'))
  const reason = textOf(fault, 'Reason', 'Text')
  const joined = codes.join(' ')
  const kind = KINDS.find(([pattern]) => pattern.test(joined))?.[1] ?? 'other'
  return new OnvifFault(kind, reason || joined || 'The camera refused this.')
}
