/** The access code that a server opened to the network asks for, and the cookie of those who gave it. */
import { createHmac, randomBytes, randomInt, timingSafeEqual } from 'node:crypto'
import { readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import * as v from 'valibot'
import { parsedJson } from '../../core/safely'

// Without letters and digits that are mistaken for each other.
const LETTERS = '23456789ABCDEFGHJKMNPQRSTUVWXYZ'
const LENGTH = 8
const TRIES = 10
const TRIES_WITHIN_MS = 60_000
const MOST_ADDRESSES = 10_000

const Kept = v.object({ code: v.string(), secret: v.string() })

export const ACCESS_COOKIE = 'heron_access'

const same = (a: string, b: string) => {
  const digest = (text: string) => createHmac('sha256', 'compare').update(text).digest()
  return timingSafeEqual(digest(a), digest(b))
}

export class AccessCode {
  /** When each address gave a wrong one. */
  private readonly tries = new Map<string, number[]>()

  private constructor(
    readonly code: string,
    private readonly secret: string,
  ) {}

  /** Reads the code kept in the data folder, or makes one at the first start. */
  static async open(dataFolder: string): Promise<AccessCode> {
    const file = join(dataFolder, 'access.json')
    const text = await readFile(file, 'utf8').catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return null
      throw new Error(`${file} cannot be read (${error.code}). Mend its rights.`)
    })
    if (text === null) {
      const code = Array.from({ length: LENGTH }, () => LETTERS[randomInt(LETTERS.length)]).join('')
      const secret = randomBytes(32).toString('hex')
      await writeFile(file, JSON.stringify({ code, secret }), { mode: 0o600, flag: 'wx' })
      return new AccessCode(code, secret)
    }
    // Never replaced silently: everybody would be locked out without knowing why.
    const kept = v.safeParse(Kept, parsedJson(text))
    if (!kept.success)
      throw new Error(`${file} is damaged. Put a backup of it back, or delete it to get a new access code.`)
    return new AccessCode(kept.output.code, kept.output.secret)
  }

  /**
   * @param from the address that it comes from: whoever guesses locks out nobody else
   * @returns the cookie's value; 'wrong'; or 'wait' after too many wrong ones
   */
  redeem(typed: string, from: string, nowMs: number): { cookie: string } | 'wrong' | 'wait' {
    const recent = (this.tries.get(from) ?? []).filter((t) => nowMs - t < TRIES_WITHIN_MS)
    if (recent.length >= TRIES) return 'wait'
    if (same(typed.toUpperCase().replace(/[^A-Z0-9]/g, ''), this.code)) {
      this.tries.delete(from)
      return { cookie: this.token() }
    }
    this.tries.delete(from)
    this.tries.set(from, [...recent, nowMs])
    // The oldest are dropped: any number of addresses must not fill the memory.
    if (this.tries.size > MOST_ADDRESSES) this.tries.delete(this.tries.keys().next().value!)
    return 'wrong'
  }

  accepts(cookie: string | undefined): boolean {
    return cookie !== undefined && same(cookie, this.token())
  }

  private token(): string {
    return createHmac('sha256', this.secret).update(this.code).digest('hex')
  }
}
