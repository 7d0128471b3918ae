/** Long random words that open something, of which only hashes are kept. */
import { createHash, randomBytes } from 'node:crypto'

export const newToken = (): string => randomBytes(24).toString('base64url')
export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex')
