import type { Connection, Picture } from './connection'
import { keptSecrets, sameComputer } from './keptSecrets'

const all = { link: 'a', lens: 'b', picture: 'c' }
const onvif = (host: string, port = 80): Connection => ({ kind: 'onvif', host, port, user: 'op' })
const mjpeg = (url: string): Picture => ({ kind: 'mjpeg', url, user: 'op' })
const owner = { connection: onvif('10.0.0.5'), picture: mjpeg('http://10.0.0.5:8080/v?x=1') }

test('what stays where it was is kept', () => {
  expect(keptSecrets(all, owner, owner)).toEqual({ link: 'a', picture: 'c' })
  const renamed = {
    connection: { ...onvif('10.0.0.5'), user: 'other' } as Connection,
    picture: mjpeg('http://10.0.0.5:8080/w'),
  }
  expect(keptSecrets(all, owner, renamed)).toEqual({ link: 'a', picture: 'c' })
  expect(keptSecrets(all, owner, { ...owner, connection: onvif('10.0.0.5'.toUpperCase()) })).toHaveProperty(
    'link',
  )
})

test.each([
  ['host', { ...owner, connection: onvif('10.0.0.6') }, ['picture']],
  ['port', { ...owner, connection: onvif('10.0.0.5', 81) }, ['picture']],
  [
    'kind',
    {
      ...owner,
      connection: { kind: 'commands', host: '10.0.0.5', port: 80, set: 's', user: 'op' } as Connection,
    },
    ['picture'],
  ],
  ['picture host', { ...owner, picture: mjpeg('http://evil.example:8080/v?x=1') }, ['link']],
  ['picture port', { ...owner, picture: mjpeg('http://10.0.0.5:8081/v?x=1') }, ['link']],
  ['picture scheme', { ...owner, picture: mjpeg('https://10.0.0.5:8080/v?x=1') }, ['link']],
  ['no picture any more', { ...owner, picture: { kind: 'none' } as Picture }, ['link']],
])('another %s: its password is not', (_what, after, kept) => {
  expect(Object.keys(keptSecrets(all, owner, after))).toEqual(kept)
})

test('the parts of a rig are told apart, and one that was none before has no password to keep', () => {
  const rig = (head: string, lens: string): Connection => ({
    kind: 'rig',
    head: onvif(head) as never,
    lens: onvif(lens) as never,
  })
  const before = { connection: rig('h', 'l'), picture: { kind: 'none' } as Picture }
  expect(keptSecrets(all, before, { ...before, connection: rig('h', 'other') })).toEqual({ link: 'a' })
  expect(keptSecrets(all, before, { ...before, connection: rig('other', 'l') })).toEqual({ lens: 'b' })
})

test('one password does for link and picture of the same computer alone', () => {
  expect(sameComputer(owner)).toBe(true)
  expect(sameComputer({ ...owner, picture: mjpeg('http://10.0.0.6:8080/') })).toBe(false)
  expect(sameComputer({ ...owner, picture: { kind: 'none' } })).toBe(false)
})
