/**
 * Camera passwords at rest: AES-256-GCM, with a key that lives in the data folder and not in the
 * database, so that a copy of the database alone gives no password away.
 */
import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto'
import { readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import * as v from 'valibot'
import { Secrets } from '../../core/cameras/connection'
import { parsedJson } from '../../core/safely'

const KEY_BYTES = 32
const IV_BYTES = 12
const TAG_BYTES = 16

export class SecretBox {
  private constructor(private readonly key: Buffer) {}

  /** Reads the key of a data folder; makes one at the first time. */
  static async open(folder: string): Promise<SecretBox> {
    const file = join(folder, 'password-key')
    try {
      const key = Buffer.from((await readFile(file, 'utf8')).trim(), 'base64')
      if (key.length !== KEY_BYTES) throw new Error(`${file} is damaged. Put a backup of it back.`)
      return new SecretBox(key)
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error
      const key = randomBytes(KEY_BYTES)
      await writeFile(file, key.toString('base64'), { mode: 0o600, flag: 'wx' })
      return new SecretBox(key)
    }
  }

  /** @returns null if there is nothing to hide */
  seal(secrets: Secrets): string | null {
    const kept = Object.fromEntries(Object.entries(secrets).filter(([, password]) => password))
    return Object.keys(kept).length === 0 ? null : this.sealText(JSON.stringify(kept))
  }

  sealText(text: string): string {
    const iv = randomBytes(IV_BYTES)
    const cipher = createCipheriv('aes-256-gcm', this.key, iv)
    const body = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()])
    return Buffer.concat([iv, cipher.getAuthTag(), body]).toString('base64')
  }

  /** What cannot be opened, as after the key was lost, counts as no password. */
  open(sealed: string | null): Secrets {
    const text = sealed === null ? null : this.openText(sealed)
    const parsed = v.safeParse(Secrets, text === null ? null : parsedJson(text))
    return parsed.success ? parsed.output : {}
  }

  /** @returns null if it cannot be opened, as after the key was lost */
  openText(sealed: string): string | null {
    try {
      const all = Buffer.from(sealed, 'base64')
      const decipher = createDecipheriv('aes-256-gcm', this.key, all.subarray(0, IV_BYTES))
      decipher.setAuthTag(all.subarray(IV_BYTES, IV_BYTES + TAG_BYTES))
      return Buffer.concat([decipher.update(all.subarray(IV_BYTES + TAG_BYTES)), decipher.final()]).toString()
    } catch {
      return null
    }
  }
}
