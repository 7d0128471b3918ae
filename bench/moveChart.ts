/** One move as a drawing: what was planned and what the head did, axis by axis, and how far the two were apart. */
import type { Drawn } from '../src/conformance/followMoves'

const [WIDTH, PANEL, LEFT, GAP] = [640, 84, 64, 12]
const STYLE = 'font-family="sans-serif" font-size="11" fill="#445"'
const AXES = [
  ['pan', 'Pan °', 1],
  ['tilt', 'Tilt °', 1],
  ['zoom', 'Zoom %', 100],
] as const

const fixed = (x: number) => x.toFixed(1)

export function moveChart(title: string, { seconds, planned, path }: Drawn): string {
  const across = (ms: number) => LEFT + (ms / 1000 / (seconds + 1)) * (WIDTH - LEFT - 8)
  const shown = path.map((_, i) => i).filter((i) => path[i]!.ms <= (seconds + 1) * 1000)
  const panel = (label: string, lines: { of(i: number): number; look: string }[], at: number) => {
    const all = lines.flatMap(({ of }) => shown.map(of))
    const [low, high] = [Math.min(...all), Math.max(...all)]
    const span = Math.max(high - low, 1e-3)
    const up = (x: number) => at + PANEL - 6 - ((x - low) / span) * (PANEL - 12)
    const drawn = lines.map(({ of, look }) => {
      const points = shown.map((i) => `${fixed(across(path[i]!.ms))},${fixed(up(of(i)))}`).join(' ')
      return `<polyline points="${points}" fill="none" ${look}/>`
    })
    return [
      `<rect x="${LEFT}" y="${at}" width="${WIDTH - LEFT - 8}" height="${PANEL}" fill="#f4f5f3"/>`,
      `<text x="4" y="${at + 14}" ${STYLE}>${label}</text>`,
      `<text x="4" y="${at + 30}" ${STYLE}>${high.toFixed(2)}</text>`,
      `<text x="4" y="${at + PANEL - 4}" ${STYLE}>${low.toFixed(2)}</text>`,
      ...drawn,
    ].join('')
  }
  const [thin, bright] = ['stroke="#889" stroke-width="1"', 'stroke="#2a7896" stroke-width="1.6"']
  const panels = AXES.map(([axis, label, by], n) =>
    panel(
      label,
      [
        { of: (i) => planned[i]![axis] * by, look: thin },
        { of: (i) => path[i]![axis] * by, look: bright },
      ],
      24 + n * (PANEL + GAP),
    ),
  )
  const off = (i: number) => {
    const [p, q] = [planned[i]!, path[i]!]
    return Math.hypot((q.pan - p.pan) * Math.cos((q.tilt * Math.PI) / 180), q.tilt - p.tilt)
  }
  panels.push(panel('Off °', [{ of: off, look: bright }], 24 + 3 * (PANEL + GAP)))
  const height = 24 + 4 * (PANEL + GAP) + 18
  const end = across(seconds * 1000)
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${height}" viewBox="0 0 ${WIDTH} ${height}">`,
    `<title>${title}</title><rect width="100%" height="100%" fill="#fff"/><text x="4" y="14" ${STYLE}>${title}: ${seconds.toFixed(1)} s. Thin: planned. Strong: the head.</text>`,
    ...panels,
    `<line x1="${fixed(end)}" x2="${fixed(end)}" y1="24" y2="${height - 24}" stroke="#c66" stroke-dasharray="4 3"/>`,
    `<text x="${LEFT}" y="${height - 4}" ${STYLE}>0 s</text><text x="${fixed(end - 12)}" y="${height - 4}" ${STYLE}>${seconds.toFixed(1)} s</text>`,
    '</svg>\n',
  ].join('')
}
