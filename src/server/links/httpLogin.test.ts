import { asksDigest, basicHeader, challengeFields, digestHeader, loginHeader } from './httpLogin'

// The example of RFC 7616, section 3.9.1.
const LOGIN = { user: 'Mufasa', password: 'Circle of Life' }
const NONCE = '7ypf/xlj9XXwfDPEoM4URrv/xwf94BcCAzFZH4GiTo0v'
const OPAQUE = 'FQhe/qaU925kfnzjCev0ciny7QMkPqMAFRtzCUYo5tdS'
const CNONCE = 'f2/wE4q74E6zIJEtWaHKaf5wv/H5QzzpXusqGemxURZJ'
const challenge = (algorithm: string) =>
  `Digest realm="http-auth@example.org", qop="auth, auth-int", algorithm=${algorithm}, nonce="${NONCE}", opaque="${OPAQUE}"`

test.each([
  ['MD5', '8ca523f5e9506fed4657c9700eebdbec'],
  ['SHA-256', '753927fa0e85d155564e2e272a28d1802ca10daf4496794697cf8db5856cb6c1'],
])('the example of the standard, %s', (algorithm, response) => {
  const header = digestHeader(challenge(algorithm), LOGIN, 'GET', '/dir/index.html', 1, CNONCE)
  expect(header).toMatch(/^Digest /)
  expect(challengeFields(header)).toEqual({
    username: 'Mufasa',
    realm: 'http-auth@example.org',
    uri: '/dir/index.html',
    algorithm,
    nonce: NONCE,
    nc: '00000001',
    cnonce: CNONCE,
    qop: 'auth',
    response,
    opaque: OPAQUE,
  })
})

test('an old camera that names no protection gets the old answer; each answer is another', () => {
  const old = 'Digest realm="testrealm@host.com", nonce="dcd98b7102dd2f0e8b11d0f600bfb0c093"'
  const fields = challengeFields(digestHeader(old, LOGIN, 'GET', '/dir/index.html'))
  expect(fields).not.toHaveProperty('cnonce')
  expect(fields.response).toMatch(/^[0-9a-f]{32}$/)
  const [a, b] = [1, 2].map(() => digestHeader(challenge('MD5'), LOGIN, 'GET', '/'))
  expect(a).not.toBe(b)
  expect(basicHeader({ user: 'operator', password: 'reed' })).toBe('Basic b3BlcmF0b3I6cmVlZA==')
})

test('of several challenges the safest is answered; one that shows the password only where that is allowed', () => {
  const login = { user: 'op', password: 'secret' }
  const both = ['Basic realm="x", charset="UTF-8", Digest realm="x", nonce="7", qop="auth"']
  expect(asksDigest(both)).toBe(true)
  expect(loginHeader(both, login, 'GET', '/')).toMatch(/^Digest username="op".*nonce="7"/)
  expect(loginHeader(['Digest realm="x", nonce="7"', 'Basic realm="x"'], login, 'GET', '/')).toMatch(
    /^Digest/,
  )
  expect(loginHeader(['Basic realm="x"'], login, 'GET', '/')).toBe(
    `Basic ${Buffer.from('op:secret').toString('base64')}`,
  )
  expect(loginHeader(['Basic realm="x"'], login, 'GET', '/', { basicToo: false })).toBeNull()
  expect(loginHeader(['Negotiate'], login, 'GET', '/')).toBeNull()
})
