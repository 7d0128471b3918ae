/** Cameras of every kind and with every setting, for the tests of files and forms. */
import fc from 'fast-check'
import { HEAD_PROFILES } from '../heads/registry'
import { parsedUrl } from '../safely'
import type { CameraSettings } from './connection'
import type { SingleConnection } from './kinds'

const host = fc.stringMatching(/^[a-z][\w.-]{0,20}$/).filter((name) => parsedUrl(`http://${name}/`) !== null)
const port = fc.integer({ min: 1, max: 65535 })
const user = fc.constantFrom('', 'operator', "o'neil", '=SUM(A1)', '@admin')
/** Left out where it is not so. */
const yes = fc.constant(true)
const single: fc.Arbitrary<SingleConnection> = fc.oneof(
  fc.record({
    kind: fc.constantFrom('visca-udp' as const, 'visca-udp-raw' as const, 'visca-tcp' as const),
    host,
    port,
  }),
  fc.record({
    kind: fc.constant('visca-serial' as const),
    path: fc.constantFrom('/dev/ttyUSB0', 'COM3'),
    baud: fc.constantFrom(9600 as const, 38400 as const),
    format: fc.constantFrom('8N1' as const, '8E1' as const),
    address: fc.integer({ min: 1, max: 7 }),
  }),
  fc.record(
    { kind: fc.constant('onvif' as const), host, port, user, secure: yes, openly: yes },
    { requiredKeys: ['kind', 'host', 'port', 'user'] },
  ),
  fc.record({ kind: fc.constant('commands' as const), host, port, set: fc.constant('wharf-lens'), user }),
)
const name = fc.constantFrom(
  'Gallery',
  'Stage; left',
  'Said "so"',
  '=1+1',
  '-dash',
  "'quoted",
  'Ünïcode 席',
  '+44',
)
export const anySettings: fc.Arbitrary<CameraSettings> = fc.record({
  number: fc.constant(1),
  name,
  enabled: fc.boolean(),
  connection: fc.oneof(single, fc.record({ kind: fc.constant('rig' as const), head: single, lens: single })),
  headConfirmed: fc.boolean(),
  headProfile: fc.constantFrom(...HEAD_PROFILES.map((p) => p.id)),
  picture: fc.oneof(
    fc.constant({ kind: 'none' as const }),
    fc.record({ kind: fc.constantFrom('mjpeg' as const), url: fc.constant('http://10.0.0.2/s?a=1,2'), user }),
    fc.record(
      {
        kind: fc.constant('jpeg' as const),
        url: fc.constant('http://10.0.0.2/1.jpg'),
        user,
        openly: yes,
        perSec: fc.constantFrom(0.5, 4, 15),
      },
      { requiredKeys: ['kind', 'url', 'user', 'perSec'] },
    ),
    fc.record({ kind: fc.constant('rtsp' as const), url: fc.constant('rtsp://10.0.0.2/s'), user }),
  ),
  mount: fc.record({ upsideDown: fc.boolean(), mirrored: fc.boolean() }),
  limits: fc.constant(null),
  pace: fc.oneof(
    fc.constant(null),
    fc.constant({ kind: 'quick' as const }),
    fc.record({
      kind: fc.constant('timed' as const),
      seconds: fc.integer({ min: 1, max: 120 }).map((n) => n / 2),
    }),
    fc.record({
      kind: fc.constant('steady' as const),
      degPerSec: fc.integer({ min: 1, max: 1000 }).map((n) => n / 10),
    }),
  ),
  holdPicture: fc.boolean(),
  alsoInMemory: fc.boolean(),
  leash: fc.boolean(),
  pageUrl: fc.constantFrom(null, 'http://10.0.0.2/'),
})
