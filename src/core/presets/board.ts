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

/**
 * The section of a new preset: where the eye was, so that nothing moves under a thumb. That is the section of
 * the preset that was recalled last, or else of the one that was stored last.
 */
export function sectionForNew(
  presets: readonly { id: string; section: string; storedAt: string }[],
  recalledId: string | null,
): string {
  const recalled = presets.find((p) => p.id === recalledId)
  if (recalled) return recalled.section
  const [newest] = [...presets].sort((a, b) => (a.storedAt < b.storedAt ? 1 : -1))
  return newest?.section ?? ''
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
  /** Everything that is searched, in lower case without accents. */
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

export interface Found<P> {
  /** Best first. */
  best: P[]
  /** All that are found, of which these are the best. */
  total: number
}

/**
 * Those in which each word of what was typed begins some word, or stands in the name; a number finds the
 * presets of that number first.
 */
export function searchPresets<P extends Findable>(
  index: readonly Indexed<P>[],
  typed: string,
  most = 36,
): Found<P> {
  const words = plain(typed).split(/\s+/).filter(Boolean)
  if (words.length === 0) return { best: [], total: 0 }
  const number = /^\d+$/.test(typed.trim()) ? Number(typed.trim()) : null
  const byScore = new Map<number, P[]>()
  let total = 0
  for (const { preset, name, text } of index) {
    let score = number !== null && preset.number === number ? 100 : 0
    const all = words.every((word) => {
      if (name.startsWith(word)) score += 8
      else if (text.startsWith(word) || text.includes(` ${word}`)) score += 4
      else if (name.includes(word)) score += 1
      else return false
      return true
    })
    if (!all && score < 100) continue
    total += 1
    const alike = byScore.get(score)
    if (alike) alike.push(preset)
    else byScore.set(score, [preset])
  }
  const best: P[] = []
  for (const score of [...byScore.keys()].sort((a, b) => b - a)) {
    if (best.length >= most) break
    best.push(...byScore.get(score)!.sort((a, b) => a.number - b.number))
  }
  return { best: best.slice(0, most), total }
}

/** Words of the list that begin like the last word that was typed. */
export function suggestions(words: readonly string[], typed: string, most = 8): string[] {
  const last = plain(typed.split(/\s+/).pop() ?? '')
  return words.filter((word) => plain(word).startsWith(last) && word !== typed).slice(0, most)
}
