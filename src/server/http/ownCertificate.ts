/**
 * A certificate authority of this installation's own, and the certificate of this computer that it signs: browsers
 * hand out gamepads, MIDI and the clipboard over a secure connection only, and a desk in a barn has no public name.
 */
import 'reflect-metadata'
import { webcrypto, X509Certificate } from 'node:crypto'
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises'
import { isIP } from 'node:net'
import { join } from 'node:path'
import * as x509 from '@peculiar/x509'

const DAY_MS = 86_400_000
/** As long as browsers accept it. */
const SERVER_DAYS = 397
const RENEW_DAYS = 30
const AUTHORITY_DAYS = 3650
const ALGORITHM = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' } as const

x509.cryptoProvider.set(webcrypto as unknown as Crypto)

export interface OwnCertificate {
  /** PEM: the certificate and the authority after it. */
  cert: string
  /** PEM, PKCS 8. */
  key: string
  /** PEM: what phones are to trust. */
  authority: string
}

interface Pair {
  cert: string
  key: string
}

const serial = () => Buffer.from(webcrypto.getRandomValues(new Uint8Array(16))).toString('hex')
const makeKeys = () =>
  webcrypto.subtle.generateKey(ALGORITHM, true, ['sign', 'verify']) as unknown as Promise<CryptoKeyPair>

async function pemOf(key: CryptoKey): Promise<string> {
  const bytes = await webcrypto.subtle.exportKey('pkcs8', key as unknown as webcrypto.CryptoKey)
  return x509.PemConverter.encode(bytes, 'PRIVATE KEY')
}

function keyFrom(pem: string): Promise<CryptoKey> {
  const bytes = x509.PemConverter.decode(pem)[0]!
  return webcrypto.subtle.importKey('pkcs8', bytes, ALGORITHM, true, [
    'sign',
  ]) as unknown as Promise<CryptoKey>
}

async function makeAuthority(computer: string, nowMs: number) {
  const keys = await makeKeys()
  const cert = await x509.X509CertificateGenerator.createSelfSigned({
    serialNumber: serial(),
    name: `CN=Steady Heron at ${computer}`,
    notBefore: new Date(nowMs - DAY_MS),
    notAfter: new Date(nowMs + AUTHORITY_DAYS * DAY_MS),
    keys,
    signingAlgorithm: ALGORITHM,
    extensions: [
      new x509.BasicConstraintsExtension(true, 0, true),
      new x509.KeyUsagesExtension(x509.KeyUsageFlags.keyCertSign | x509.KeyUsageFlags.cRLSign, true),
      await x509.SubjectKeyIdentifierExtension.create(keys.publicKey),
    ],
  })
  return { cert: cert.toString('pem'), key: await pemOf(keys.privateKey) }
}

async function makeServer(authority: Pair, names: readonly string[], nowMs: number): Promise<Pair> {
  const issuer = new x509.X509Certificate(authority.cert)
  const keys = await makeKeys()
  const cert = await x509.X509CertificateGenerator.create({
    serialNumber: serial(),
    subject: `CN=${names[0]}`,
    issuer: issuer.subject,
    notBefore: new Date(nowMs - DAY_MS),
    notAfter: new Date(nowMs + SERVER_DAYS * DAY_MS),
    publicKey: keys.publicKey,
    signingKey: await keyFrom(authority.key),
    signingAlgorithm: ALGORITHM,
    extensions: [
      new x509.BasicConstraintsExtension(false, undefined, true),
      new x509.KeyUsagesExtension(x509.KeyUsageFlags.digitalSignature, true),
      new x509.ExtendedKeyUsageExtension([x509.ExtendedKeyUsage.serverAuth]),
      new x509.SubjectAlternativeNameExtension(
        names.map((value) => ({ type: isIP(value) ? ('ip' as const) : ('dns' as const), value })),
      ),
      await x509.AuthorityKeyIdentifierExtension.create(issuer.publicKey),
    ],
  })
  return { cert: cert.toString('pem'), key: await pemOf(keys.privateKey) }
}

/** Does it still hold for a month, and for each of these names? */
function holds(cert: string, names: readonly string[], nowMs: number): boolean {
  const parsed = new X509Certificate(cert)
  if (Date.parse(parsed.validTo) < nowMs + RENEW_DAYS * DAY_MS) return false
  return names.every((name) =>
    isIP(name) ? parsed.checkIP(name) !== undefined : parsed.checkHost(name) !== undefined,
  )
}

/**
 * Reads both from the folder, makes them at the first start, and the certificate anew where the computer has got
 * other names or it runs out.
 * @param names host names and addresses under which the computer is asked
 * @throws if what is kept cannot be read: whoever trusts it would be shut out without knowing why
 */
export async function ownCertificate(
  folder: string,
  names: readonly string[],
  nowMs: number,
): Promise<OwnCertificate> {
  const place = join(folder, 'tls')
  await mkdir(place, { recursive: true, mode: 0o700 })
  // Both in one file, put in place at once: a certificate must not meet the key of another.
  const keep = async (name: string, made: Pair): Promise<Pair> => {
    const path = join(place, `${name}.pem`)
    const pair = { cert: made.cert.trim(), key: made.key.trim() }
    await writeFile(`${path}.part`, `${pair.cert}\n${pair.key}\n`, { mode: 0o600 })
    await rename(`${path}.part`, path)
    return pair
  }
  const kept = async (name: string): Promise<Pair | null> => {
    const path = join(place, `${name}.pem`)
    const text = await readFile(path, 'utf8').catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return null
      throw new Error(`${path} cannot be read (${error.code}). Mend its rights.`)
    })
    if (text === null) return null
    const found = /^(-----BEGIN CERT[\s\S]+END CERTIFICATE-----)\s+(-----BEGIN PRIV[\s\S]+)$/.exec(text)
    if (!found) throw new Error(`${path} is damaged. Put a backup of it back.`)
    return { cert: found[1]!, key: found[2]!.trim() }
  }
  const authority =
    (await kept('authority')) ?? (await keep('authority', await makeAuthority(names[0]!, nowMs)))
  const before = await kept('server')
  const server =
    before && holds(before.cert, names, nowMs)
      ? before
      : await keep('server', await makeServer(authority, names, nowMs))
  return { cert: `${server.cert}\n${authority.cert}\n`, key: server.key, authority: authority.cert }
}
