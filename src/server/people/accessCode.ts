/** The access code that a server opened to the network asks for, and the cookie of those who gave it. */
import { createHmac, randomBytes, randomInt, timingSafeEqual } from 'node:crypto'
import { readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import * as v from 'valibot'

// Without letters and digits that are mistaken for each other.
const LETTERS = '23456789ABCDEFGHJKMNPQRSTUVWXYZ'
const LENGTH = 8
const TRIES = 10
const TRIES_WITHIN_MS = 60_000

const Kept = v.object({ code: v.string(), secret: v.string() })

export const ACCESS_COOKIE = 'heron_access'

const same = (a: string, b: string) => {
  const digest = (text: string) => createHmac('sha256', 'compare').update(text).digest()
  return timingSafeEqual(digest(a), digest(b))
}

export class AccessCode {
  private tries: number[] = []

  private constructor(
    readonly code: string,
    private readonly secret: string,
  ) {}

  /** Reads the code kept in the data folder, or makes one at the first start. */
  static async open(dataFolder: string): Promise<AccessCode> {
    const file = join(dataFolder, 'access.json')
    try {
      const kept = v.parse(Kept, JSON.parse(await readFile(file, 'utf8')))
      return new AccessCode(kept.code, kept.secret)
    } catch {
      const code = Array.from({ length: LENGTH }, () => LETTERS[randomInt(LETTERS.length)]).join('')
      const secret = randomBytes(32).toString('hex')
      await writeFile(file, JSON.stringify({ code, secret }), { mode: 0o600 })
      return new AccessCode(code, secret)
    }
  }

  /** @returns the cookie's value; 'wrong'; or 'wait' after too many wrong ones */
  redeem(typed: string, nowMs: number): { cookie: string } | 'wrong' | 'wait' {
    this.tries = this.tries.filter((t) => nowMs - t < TRIES_WITHIN_MS)
    if (this.tries.length >= TRIES) return 'wait'
    if (same(typed.toUpperCase().replace(/[^A-Z0-9]/g, ''), this.code)) return { cookie: this.token() }
    this.tries.push(nowMs)
    return 'wrong'
  }

  accepts(cookie: string | undefined): boolean {
    return cookie !== undefined && same(cookie, this.token())
  }

  private token(): string {
    return createHmac('sha256', this.secret).update(this.code).digest('hex')
  }
}
