import fc from 'fast-check'
import * as v from 'valibot'
import { anySettings } from './anyCamera'
import { addressText, deviceKeys, kindWords } from './connection'
import { KINDS, LINK_FIELDS, linkFromTexts, SINGLE_KINDS, SingleConnection, textsOfLink } from './kinds'

const single = anySettings.map(({ connection }) => (connection.kind === 'rig' ? connection.lens : connection))

test('a link comes back out of its texts as it was, and its schema takes it', () => {
  fc.assert(
    fc.property(single, (link) => {
      const texts = new Map(textsOfLink(link))
      const back = linkFromTexts(link.kind, (field) => texts.get(field) ?? '')
      expect(back).toEqual(link)
      expect(v.is(SingleConnection, back)).toBe(true)
    }),
  )
})

test('what was left out is as usual, where there is something usual', () => {
  const serial = linkFromTexts('visca-serial', (field) => (field === 'path' ? '/dev/ttyS0' : ''))
  expect(serial).toEqual({ kind: 'visca-serial', path: '/dev/ttyS0', baud: 9600, format: '8N1', address: 1 })
  expect(
    v.is(
      SingleConnection,
      linkFromTexts('visca-udp', () => ''),
    ),
  ).toBe(false)
  expect(
    v.is(
      SingleConnection,
      linkFromTexts('telepathy', () => 'x'),
    ),
  ).toBe(false)
})

test('every kind has its words, fields that are described once, and a schema of just these', () => {
  for (const kind of SINGLE_KINDS) {
    expect(KINDS[kind].words).toBeTruthy()
    expect(Object.keys(KINDS[kind].schema.entries).sort()).toEqual(['kind', ...KINDS[kind].fields].sort())
  }
  const columns = Object.values(LINK_FIELDS).map(({ column }) => column)
  expect(new Set(columns).size).toBe(columns.length)
})

test('a connection is told in words, and two that would be the same device share a key', () => {
  const tcp = { kind: 'visca-tcp' as const, host: 'Cam.local', port: 80 }
  const onvif = { kind: 'onvif' as const, host: 'cam.LOCAL', port: 80, user: '' }
  const rig = { kind: 'rig' as const, head: tcp, lens: onvif }
  expect([kindWords(tcp), kindWords(rig)]).toEqual(['VISCA, raw TCP', 'Rig of two parts'])
  expect(addressText(rig)).toBe('Cam.local:80 and cam.LOCAL:80')
  // One TCP port of a computer is one device, whatever is spoken there.
  expect(deviceKeys(tcp)).toEqual(deviceKeys(onvif))
  expect(deviceKeys({ ...tcp, kind: 'visca-udp' })).not.toEqual(deviceKeys({ ...tcp, kind: 'visca-udp-raw' }))
})
