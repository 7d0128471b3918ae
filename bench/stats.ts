/** Figures of a row of samples. */
export function quantile(samples: readonly number[], q: number): number {
  const sorted = [...samples].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))] ?? Number.NaN
}

/** Ours by the barest thing's, at a quantile. */
export const ratio = (ours: readonly number[], bare: readonly number[], q: number): number =>
  quantile(ours, q) / quantile(bare, q)

export interface Figure {
  name: string
  value: number
  unit: string
  /** What it should be below; null if there is no aim. */
  aim: number | null
}

/** @param aim what it should be below */
export const row = (name: string, value: number, unit: string, aim: number | null = null): Figure => ({
  name,
  value,
  unit,
  aim,
})

export function table(figures: readonly Figure[]): string {
  const rows = figures.map((f) => [
    f.name,
    `${f.value.toFixed(f.value < 10 ? 2 : 0)} ${f.unit}`,
    f.aim === null ? '' : `below ${f.aim} ${f.unit}`,
    f.aim === null ? '' : f.value < f.aim ? 'met' : 'missed',
  ])
  const widths = [0, 1, 2, 3].map((i) => Math.max(...rows.map((r) => r[i]!.length)))
  return rows.map((r) => r.map((cell, i) => cell.padEnd(widths[i]!)).join('  ')).join('\n')
}
