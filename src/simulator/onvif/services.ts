/** The services of a stand-in: where each listens, which namespace it speaks, and what it can be asked. */
import { NAMESPACES } from '../../core/onvif/soap'

export type Service = 'device' | 'media' | 'ptz' | 'imaging'

export const SERVICES: Record<Service, { path: string; namespace: string }> = {
  device: { path: '/onvif/device_service', namespace: NAMESPACES.tds },
  media: { path: '/onvif/media', namespace: NAMESPACES.trt },
  ptz: { path: '/onvif/ptz', namespace: NAMESPACES.tptz },
  imaging: { path: '/onvif/imaging', namespace: NAMESPACES.timg },
}

export const ALL_SERVICES = Object.keys(SERVICES) as Service[]

export const serviceAt = (path: string): Service | null =>
  ALL_SERVICES.find((name) => SERVICES[name].path === path) ?? null

/** The request of an envelope: its namespace and name; null if it has none. */
export function requestIn(xml: string): { namespace: string; name: string } | null {
  const found = /<(?:[\w-]+:)?Body\b[^>]*>\s*<(?:([\w-]+):)?([\w-]+)([^>]*)>/.exec(xml)
  if (!found) return null
  const [, prefix, name, attributes] = found
  const declared = new RegExp(`\\bxmlns${prefix ? `:${prefix}` : ''}\\s*=\\s*["']([^"']*)["']`)
  const namespace = (declared.exec(attributes!) ?? declared.exec(xml))?.[1] ?? ''
  return { namespace, name: name! }
}
