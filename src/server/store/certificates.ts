/** The certificates that devices showed at the first contact. */
import type { Certificate } from '../links/certificates'
import type { Database } from './database'
import { certificate } from './schema'

export const readCertificates = (db: Database): Promise<Certificate[]> =>
  db.select({ origin: certificate.origin, fingerprint: certificate.fingerprint }).from(certificate)

export async function keepCertificate(db: Database, { origin, fingerprint }: Certificate): Promise<void> {
  await db
    .insert(certificate)
    .values({ origin, fingerprint })
    .onConflictDoUpdate({ target: certificate.origin, set: { fingerprint, seenAt: new Date() } })
}
