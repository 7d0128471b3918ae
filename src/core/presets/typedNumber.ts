/** Recall by digits: when is what was typed a preset's number, without waiting for more? */

export type TypedNumber =
  /** No other number begins like this: recall now. */
  | { kind: 'sure'; number: number }
  /** It could become a longer number: wait for the next digit, Enter, or a pause. */
  | { kind: 'open'; typed: string; number: number | null }
  /** No number begins like this. */
  | { kind: 'none'; typed: string }

/** @param typed one or more digits; leading zeros do not count */
export function typedNumber(typed: string, numbers: readonly number[]): TypedNumber {
  const digits = typed.replace(/^0+/, '')
  if (digits === '') return { kind: 'open', typed, number: null }
  const exact = numbers.includes(Number(digits)) ? Number(digits) : null
  const longer = numbers.some((n) => String(n).startsWith(digits) && String(n) !== digits)
  if (longer) return { kind: 'open', typed: digits, number: exact }
  return exact === null ? { kind: 'none', typed: digits } : { kind: 'sure', number: exact }
}
