/**
 * Texts with placeholders in braces, both ways: filled in with numbers and words, and read back out of
 * an answer. They are data: nothing in them is ever executed, and reading takes time in proportion to
 * the length of the text.
 *
 * `{pan}` a decimal number, `{pan:4}` with at least four digits, `{pan:x4}` hexadecimal with at least four,
 * `{pan:n4}` hexadecimal with a digit to each of four bytes, as `0A 0B 0C 0D`.
 */

type Piece = { literal: string } | { name: string; digits: number; as: 'decimal' | 'hex' | 'nibbles' }

const AS = { '': 'decimal', x: 'hex', n: 'nibbles' } as const

export type Values = Readonly<Record<string, number | string>>

const PLACEHOLDER = /\{([a-zA-Z]{1,20})(?::([xn]?)(\d{1,2}))?\}/g
const MOST_DIGITS = 12

/** @throws SyntaxError if a brace is not part of a placeholder */
export function parseTemplate(text: string): Piece[] {
  const pieces: Piece[] = []
  let at = 0
  const literal = (end: number) => {
    const part = text.slice(at, end)
    if (/[{}]/.test(part)) throw new SyntaxError(`A brace is left open in "${text}".`)
    if (part) pieces.push({ literal: part })
  }
  for (const match of text.matchAll(PLACEHOLDER)) {
    literal(match.index)
    const digits = Number(match[3] ?? 0)
    if (digits > MOST_DIGITS) throw new SyntaxError(`At most ${MOST_DIGITS} digits: "${match[0]}".`)
    pieces.push({ name: match[1]!, digits, as: AS[(match[2] ?? '') as keyof typeof AS] })
    at = match.index + match[0].length
  }
  literal(text.length)
  return pieces
}

export function placeholders(text: string): string[] {
  return parseTemplate(text).flatMap((piece) => ('name' in piece ? [piece.name] : []))
}

/** @throws RangeError if a value is missing */
export function fillTemplate(text: string, values: Values): string {
  return parseTemplate(text)
    .map((piece) => {
      if ('literal' in piece) return piece.literal
      const value = values[piece.name]
      if (value === undefined) throw new RangeError(`nothing to put in for {${piece.name}}`)
      return typeof value === 'string' ? value : numberText(value, piece.digits, piece.as)
    })
    .join('')
}

function numberText(value: number, digits: number, as: 'decimal' | 'hex' | 'nibbles'): string {
  const whole = Math.round(value)
  const inHex = () =>
    (whole < 0 ? whole + 16 ** digits : whole).toString(16).toUpperCase().padStart(digits, '0')
  if (as === 'hex') return inHex()
  if (as === 'nibbles') return [...inHex()].map((digit) => `0${digit}`).join(' ')
  const text = String(Math.abs(whole)).padStart(digits, '0')
  return whole < 0 ? `-${text}` : text
}

/** Takes what stands at the placeholders out of an answer, wherever in it the template begins; null if it does not fit. */
export function readTemplate(text: string, answer: string): Record<string, string> | null {
  const pieces = parseTemplate(text)
  const first = pieces[0]
  if (!first) return null
  if (!('literal' in first)) return readFrom(pieces, answer, 0)
  for (let at = answer.indexOf(first.literal), tries = 0; at >= 0 && tries < 100; tries++) {
    const found = readFrom(pieces, answer, at)
    if (found) return found
    at = answer.indexOf(first.literal, at + 1)
  }
  return null
}

const NUMBER_OR_WORD = /[-+]?\w+(?:\.\d+)?/y

function readFrom(pieces: readonly Piece[], answer: string, from: number): Record<string, string> | null {
  const found: Record<string, string> = {}
  let at = from
  for (const piece of pieces) {
    if ('literal' in piece) {
      if (!answer.startsWith(piece.literal, at)) return null
      at += piece.literal.length
      continue
    }
    if (piece.as === 'nibbles') {
      const text = answer.slice(at, at + 3 * piece.digits - 1)
      if (!/^0[0-9A-F]( 0[0-9A-F])*$/.test(text) || text.length < 3 * piece.digits - 1) return null
      found[piece.name] = signedHex(text.replace(/ ?0(.)/g, '$1'), piece.digits)
      at += text.length
      continue
    }
    NUMBER_OR_WORD.lastIndex = at
    const match = NUMBER_OR_WORD.exec(answer)
    if (!match) return null
    // Of a number with a fixed count of digits no more are taken, since the next may follow at once.
    const digits = piece.digits > 0 && !/^[-+]/.test(match[0]) ? piece.digits : match[0].length
    const value = match[0].slice(0, digits)
    found[piece.name] = piece.as === 'hex' ? signedHex(value, piece.digits) : value
    at += value.length
  }
  return found
}

function signedHex(value: string, digits: number): string {
  const number = Number.parseInt(value, 16)
  if (Number.isNaN(number)) return value
  return String(digits === 4 && number >= 0x8000 ? number - 0x10000 : number)
}
