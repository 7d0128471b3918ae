import { fromBuffer } from 'osc-min'
import { lineProblem, readLine } from './line'

const text = (bytes: Uint8Array) => [...bytes].map((b) => b.toString(16).padStart(2, '0')).join(' ')

test('HTTP with and without a body; what is filled in cannot change the address', () => {
  expect(readLine('POST http://10.0.0.5/preview?input={input}', { input: 3 })).toEqual({
    ...{ by: 'http', method: 'POST', url: 'http://10.0.0.5/preview?input=3', body: null },
  })
  expect(readLine('PUT https://desk.local/bus {"input":"{input}"} ', { input: 'a b' })).toMatchObject({
    body: '{"input":"a b"}',
  })
  expect(readLine('GET http://h/p?x={input}', { input: '1&cut=1 /../' })).toMatchObject({
    url: 'http://h/p?x=1%26cut%3D1%20%2F..%2F',
  })
})

test('TCP and UDP with bytes that cannot be typed', () => {
  const message = readLine('UDP 10.0.0.5:9901 \\x02IN{input:2}\\r\\n\\\\é', { input: 7 })
  expect(message).toMatchObject({ by: 'udp', host: '10.0.0.5', port: 9901 })
  expect('bytes' in message && text(message.bytes)).toBe('02 49 4e 30 37 0d 0a 5c c3 a9')
  expect(readLine('TCP h:1 x', {})).toMatchObject({ by: 'tcp', port: 1 })
})

test('bytes in hex, and over a serial line', () => {
  const hex = readLine('UDP 10.0.0.5:9901 hex: 02 4a0D', {})
  expect('bytes' in hex && text(hex.bytes)).toBe('02 4a 0d')
  expect(readLine('SERIAL /dev/ttyUSB0@9600 IN{input}\\r', { input: 3 })).toMatchObject({
    ...{ by: 'serial', path: '/dev/ttyUSB0', baud: 9600 },
    bytes: Uint8Array.from([0x49, 0x4e, 0x33, 0x0d]),
  })
})

test('OSC as another library reads it', () => {
  const message = readLine('OSC 10.0.0.5:8000 /bus/{input} i:{input} f:0.5 s:Host T F N', { input: 4 })
  if (message.by !== 'udp') throw new Error(message.by)
  const read = fromBuffer(message.bytes)
  expect(read).toMatchObject({ address: '/bus/4' })
  if (read.oscType === 'message')
    expect(read.args.map((a) => a.value)).toEqual([4, 0.5, 'Host', true, false, null])
})

test.each([
  ['', /Begin with/],
  ['DELETE http://h/', /Begin with/],
  ['POST ftp://h/', /Begin with/],
  ['UDP h:70000 x', /no port/],
  ['OSC h:1 /x q:1', /OSC argument/],
  ['OSC h:1 /x i:{inputs}', /not known here/],
])('%s is refused in a sentence', (line, why) => {
  expect(lineProblem(line, ['input'])).toMatch(why)
})
