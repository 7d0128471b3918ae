import { networkInterfaces } from 'node:os'
import { checkedLookup, checkedRequest, ownPort, refusalOf, resolveTarget } from './targets'

beforeAll(() => ownPort(8420))

test.each([
  ['127.0.0.1', 8420, /itself/],
  ['127.3.4.5', 8420, /itself/],
  ['0.0.0.0', 8420, /itself/],
  ['::1', 8420, /itself/],
  ['[::1]', 8420, /itself/],
  ['::ffff:127.0.0.1', 8420, /itself/],
  ['169.254.169.254', 80, /169\.254/],
  ['fe80::1', 80, /fe80/],
  ['224.0.0.1', 80, /No camera/],
])('%s port %i is refused', (address, port, words) => {
  expect(refusalOf(address, port)).toMatch(words)
})

test('addresses of the network, and stand-ins on loopback, are not; this computer by its other addresses is', () => {
  expect(refusalOf('192.168.1.40', 8420)).toBeNull()
  expect(refusalOf('127.84.0.11', 52381)).toBeNull()
  for (const { address } of Object.values(networkInterfaces()).flatMap((x) => x ?? []))
    if (!/^fe80/.test(address)) expect(refusalOf(address, 8420)).toMatch(/itself/)
})

test('names and odd spellings are looked at after they are resolved', async () => {
  await expect(resolveTarget('localhost', 8420)).rejects.toThrow(/itself/)
  // A number is an address too.
  await expect(resolveTarget('2130706433', 8420)).rejects.toThrow(/itself/)
  await expect(resolveTarget('no-such-name.invalid', 80)).rejects.toThrow(/not known/)
  await expect(resolveTarget('10.0.0.9', 80)).resolves.toBe('10.0.0.9')
  expect(() => checkedRequest(new URL('http://127.1:8420/'))).toThrow(/itself/)
  expect(() => checkedRequest(new URL('http://[::ffff:127.0.0.1]:8420/'))).toThrow(/itself/)
  const found = await new Promise((resolve) =>
    checkedLookup(8420)('localhost', {}, (error) => resolve(error?.message)),
  )
  expect(found).toMatch(/itself/)
})
