/** How presets are arranged and found: sections, marks, the words to name them by, search. */
import * as v from 'valibot'

/** Shapes that can be told apart without colour; a letter or two may stand instead. */
export const MARKS = ['▲', '●', '■', '◆', '★', '✚', '▼', '○'] as const

export const PresetBoard = {
  section: v.pipe(v.string(), v.trim(), v.maxLength(40)),
  mark: v.pipe(v.string(), v.trim(), v.maxLength(2)),
}
export const Words = v.pipe(
  v.array(v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(40))),
  v.maxLength(400),
)

export interface Placed {
  section: string
}

export interface Section<P> {
  name: string
  presets: P[]
}

/** In the order in which each section first comes; those under no heading first. */
export function sectionsOf<P extends Placed>(presets: readonly P[]): Section<P>[] {
  const sections = new Map<string, P[]>()
  for (const preset of presets) {
    const list = sections.get(preset.section)
    if (list) list.push(preset)
    else sections.set(preset.section, [preset])
  }
  const all = [...sections].map(([name, list]) => ({ name, presets: list }))
  return [...all.filter((s) => s.name === ''), ...all.filter((s) => s.name !== '')]
}

export interface Findable {
  number: number
  name: string
  section: string
  mark: string
}

const plain = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase()

/** A preset made ready to be searched, once for many searches. */
export interface Indexed<P> {
  preset: P
  name: string
  /** Everything that is searched, in small letters without accents. */
  text: string
}

export function indexPresets<P extends Findable>(
  presets: readonly P[],
  cameraOf: (preset: P) => string,
): Indexed<P>[] {
  return presets.map((preset) => ({
    preset,
    name: plain(preset.name),
    text: plain(`${preset.name} ${preset.section} ${cameraOf(preset)} ${preset.mark}`),
  }))
}

/**
 * Those in which each word of what was typed begins some word, or stands in the name; a number finds the
 * presets of that number first. Best first.
 */
export function searchPresets<P extends Findable>(
  index: readonly Indexed<P>[],
  typed: string,
  most = 60,
): P[] {
  const words = plain(typed).split(/\s+/).filter(Boolean)
  if (words.length === 0) return []
  const number = /^\d+$/.test(typed.trim()) ? Number(typed.trim()) : null
  const found: { preset: P; score: number }[] = []
  for (const { preset, name, text } of index) {
    let score = number !== null && preset.number === number ? 100 : 0
    const all = words.every((word) => {
      if (name.startsWith(word)) score += 8
      else if (text.startsWith(word) || text.includes(` ${word}`)) score += 4
      else if (name.includes(word)) score += 1
      else return false
      return true
    })
    if (all || score >= 100) found.push({ preset, score })
  }
  return found
    .sort((a, b) => b.score - a.score || a.preset.number - b.preset.number)
    .slice(0, most)
    .map(({ preset }) => preset)
}

/** Words of the list that begin like the last word that was typed. */
export function suggestions(words: readonly string[], typed: string, most = 8): string[] {
  const last = plain(typed.split(/\s+/).pop() ?? '')
  return words.filter((word) => plain(word).startsWith(last) && word !== typed).slice(0, most)
}
