import fc from 'fast-check'
import { probe, probeMatches, readProbe, readProbeMatches, scopeValue } from './discovery'
import { presetNumbered, presetOfMemory, readNodes, readProfiles, readStatus, readTime } from './messages'
import { child, envelope, escapeXml, faultEnvelope, faultOf, parseEnvelope, textOf } from './soap'

test('any text goes into an envelope and comes out as it was', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary-ascii', maxLength: 40 }), (raw) => {
      // XML has no control characters, and the ends of a text are trimmed.
      const text = raw.replace(/[^\x20-\x7e]/g, '').trim()
      const { body } = parseEnvelope(envelope(`<tds:Thing>${escapeXml(text)}</tds:Thing>`))
      expect(textOf(body, 'Thing')).toBe(text)
    }),
  )
})

test('each fault becomes the kind that the operator is told about', () => {
  const kind = (subcode: string) => faultOf(parseEnvelope(faultEnvelope('Sender', subcode, 'no')))?.kind
  expect(kind('ter:NotAuthorized')).toBe('not-authorized')
  expect(kind('wsse:FailedAuthentication')).toBe('not-authorized')
  expect(kind('wsse:MessageExpired')).toBe('clock')
  expect(kind('ter:NoProfile')).toBe('no-profile')
  expect(kind('ter:InvalidArgVal')).toBe('invalid-value')
  expect(kind('ter:ActionNotSupported')).toBe('not-supported')
  expect(kind('ter:SomethingElse')).toBe('other')
  expect(faultOf(parseEnvelope(envelope('<tds:Fine/>')))).toBeNull()
})

test('the same message in other prefixes and shapes is read the same', () => {
  const status = (p: string) =>
    `<${p}:GetStatusResponse><${p}:PTZStatus><x:Position><x:PanTilt x="-0.25" y="0.5" space="s"/><x:Zoom x="1"/></x:Position><x:MoveStatus><x:PanTilt>MOVING</x:PanTilt><x:Zoom>IDLE</x:Zoom></x:MoveStatus></${p}:PTZStatus></${p}:GetStatusResponse>`
  const wrapped = (body: string) =>
    `<?xml version="1.0"?><env:Envelope xmlns:env="http://www.w3.org/2003/05/soap-envelope"><env:Body>${body}</env:Body></env:Envelope>`
  const expected = { pan: -0.25, tilt: 0.5, zoom: 1, told: 'node', moving: true }
  expect(readStatus(parseEnvelope(wrapped(status('tptz'))))).toEqual(expected)
  expect(readStatus(parseEnvelope(wrapped(status('ns7'))))).toEqual(expected)
  expect(readStatus(parseEnvelope(wrapped('<a:GetStatusResponse/>')))).toEqual({
    pan: null,
    tilt: null,
    zoom: null,
    told: 'node',
    moving: null,
  })
  const one =
    '<t:GetProfilesResponse><t:Profiles token="p1"><t:VideoSourceConfiguration><t:SourceToken>v</t:SourceToken></t:VideoSourceConfiguration></t:Profiles></t:GetProfilesResponse>'
  expect(readProfiles(parseEnvelope(wrapped(one)))).toEqual([
    { token: 'p1', width: 0, height: 0, videoSource: 'v', node: null, ptz: '' },
  ])
  expect(readTime(parseEnvelope(wrapped('<t:GetSystemDateAndTimeResponse/>')))).toBeNull()
  expect(readNodes(parseEnvelope(wrapped('<t:GetNodesResponse/>')))).toEqual([])
})

test('a memory is found by the name that we give, by its token, or by the number at the end of its name', () => {
  const presets = [
    { token: '7', name: 'Altar' },
    { token: 'a1', name: 'Preset 003' },
    { token: 'a2', name: 'Memory 7' },
    { token: 'a3', name: 'Row 13' },
  ]
  const token = (number: number) => presetNumbered(presets, number)?.token ?? null
  expect(token(7)).toBe('a2')
  expect(presetNumbered(presets.slice(0, 2), 7)?.token).toBe('7')
  expect(token(3)).toBe('a1')
  expect(token(13)).toBe('a3')
  expect(token(1)).toBeNull()
  // Nothing is stored over one that only seems to be meant.
  expect([3, 13].map((n) => presetOfMemory(presets, n))).toEqual([null, null])
  expect(presetOfMemory(presets, 7)?.token).toBe('a2')
})

test('discovery: a probe is known as one, its answer carries name and address', () => {
  expect(readProbe(probe('11-22'))).toBe('urn:uuid:11-22')
  expect(readProbe(envelope('<tds:Other/>'))).toBeNull()
  const match = {
    endpoint: 'urn:uuid:7',
    addresses: ['http://192.168.1.3/onvif/device_service', 'http://[fe80::1]/onvif'],
    scopes: ['onvif://www.onvif.org/name/Osier%20%26%20Co', 'onvif://www.onvif.org/type/ptz'],
  }
  const [read] = readProbeMatches(probeMatches(match, '1', 'urn:uuid:11-22'))
  expect(read).toEqual(match)
  expect(scopeValue(match.scopes, 'name')).toBe('Osier & Co')
  expect(scopeValue(['onvif://www.onvif.org/name/%E0%A4%A'], 'name')).toBeNull()
})

test('document types, entities of their own and endless documents are refused', () => {
  const bomb =
    '<!DOCTYPE a [<!ENTITY b "cccccccc"><!ENTITY d "&b;&b;&b;&b;">]><Envelope><Body>&d;</Body></Envelope>'
  expect(() => parseEnvelope(bomb)).toThrow(/does not speak ONVIF/)
  expect(() => parseEnvelope(`<Envelope>${' '.repeat(1_000_001)}</Envelope>`)).toThrow()
  expect(() => parseEnvelope('<html><body>Hello</body></html>')).toThrow(/does not speak ONVIF/)
  const { body } = parseEnvelope('<Envelope><Body><a>&lt;&#65;</a></Body></Envelope>')
  expect(child(body, 'a')).toBeUndefined()
  expect(textOf(body, 'a')).toBe('<A')
})
