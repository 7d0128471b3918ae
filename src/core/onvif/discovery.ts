/** WS-Discovery: the probe that asks for cameras, and what they answer. */
import { child, children, escapeXml, type Node, parseEnvelope, textOf } from './soap'

export const DISCOVERY_GROUP = '239.255.255.250'
export const DISCOVERY_PORT = 3702

const WSD = 'http://schemas.xmlsoap.org/ws/2005/04/discovery'
const WSA = 'http://schemas.xmlsoap.org/ws/2004/08/addressing'
const DN = 'http://www.onvif.org/ver10/network/wsdl'
const SPACES = `xmlns:s="http://www.w3.org/2003/05/soap-envelope" xmlns:a="${WSA}" xmlns:d="${WSD}" xmlns:dn="${DN}"`

/** @param messageId a UUID of its own for each probe */
export function probe(messageId: string): string {
  return `<?xml version="1.0" encoding="UTF-8"?><s:Envelope ${SPACES}><s:Header><a:Action>${WSD}/Probe</a:Action><a:MessageID>urn:uuid:${messageId}</a:MessageID><a:To>urn:schemas-xmlsoap-org:ws:2005:04:discovery</a:To></s:Header><s:Body><d:Probe><d:Types>dn:NetworkVideoTransmitter</d:Types></d:Probe></s:Body></s:Envelope>`
}

export interface ProbeMatch {
  /** Stays the same for a device. */
  endpoint: string
  /** Addresses of the device service. */
  addresses: string[]
  scopes: string[]
}

export function probeMatches(match: ProbeMatch, messageId: string, relatesTo: string): string {
  return `<?xml version="1.0" encoding="UTF-8"?><s:Envelope ${SPACES}><s:Header><a:Action>${WSD}/ProbeMatches</a:Action><a:MessageID>urn:uuid:${messageId}</a:MessageID><a:RelatesTo>${escapeXml(relatesTo)}</a:RelatesTo></s:Header><s:Body><d:ProbeMatches><d:ProbeMatch><a:EndpointReference><a:Address>${escapeXml(match.endpoint)}</a:Address></a:EndpointReference><d:Types>dn:NetworkVideoTransmitter</d:Types><d:Scopes>${escapeXml(match.scopes.join(' '))}</d:Scopes><d:XAddrs>${escapeXml(match.addresses.join(' '))}</d:XAddrs><d:MetadataVersion>1</d:MetadataVersion></d:ProbeMatch></d:ProbeMatches></s:Body></s:Envelope>`
}

/** The message id of a probe for cameras; null if it is none. */
export function readProbe(xml: string): string | null {
  try {
    const { header, body } = parseEnvelope(xml)
    const asked = child(body, 'Probe') ?? (typeof body.Probe === 'string' ? ({} as Node) : undefined)
    if (!asked) return null
    const types = textOf(asked, 'Types')
    return types === '' || types.includes('NetworkVideoTransmitter') ? textOf(header, 'MessageID') : null
  } catch {
    return null
  }
}

/** What answered; empty if it makes no sense. */
export function readProbeMatches(xml: string): ProbeMatch[] {
  try {
    const { body } = parseEnvelope(xml)
    return children(child(body, 'ProbeMatches'), 'ProbeMatch')
      .map((m) => ({
        endpoint: textOf(m, 'EndpointReference', 'Address'),
        addresses: textOf(m, 'XAddrs').split(/\s+/).filter(Boolean),
        scopes: textOf(m, 'Scopes').split(/\s+/).filter(Boolean),
      }))
      .filter((m) => m.addresses.length > 0)
  } catch {
    return []
  }
}

/** What a scope says, as onvif://www.onvif.org/name/Lectern; null if it says nothing about that. */
export function scopeValue(scopes: readonly string[], name: 'name' | 'hardware' | 'location'): string | null {
  const mark = `/${name}/`
  const scope = scopes.find((s) => s.startsWith('onvif://') && s.includes(mark))
  if (!scope) return null
  try {
    return decodeURIComponent(scope.slice(scope.indexOf(mark) + mark.length))
  } catch {
    return null
  }
}
