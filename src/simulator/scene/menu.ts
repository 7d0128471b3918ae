/** A camera's own menu, as it draws it into its picture. */
import type { Canvas } from '@napi-rs/canvas'
import { FACE } from './furniture'

export interface MenuDrawn {
  title: string
  lines: readonly string[]
  /** Which line is chosen. */
  at: number
}

export function drawMenu(canvas: Canvas, { title, lines, at }: MenuDrawn): void {
  const ctx = canvas.getContext('2d')
  const { width, height } = canvas
  const row = height / (lines.length + 4)
  ctx.fillStyle = 'rgba(10,14,24,0.82)'
  ctx.fillRect(width * 0.12, row, width * 0.76, height - 2 * row)
  const write = (text: string, y: number, weight: 400 | 700, tone: string) => {
    ctx.font = `${weight} ${Math.round(row * 0.72)}px "${FACE}"`
    ctx.fillStyle = tone
    ctx.fillText(text, width * 0.18, y)
  }
  write(title, row * 2, 700, '#F4EFD9')
  for (const [i, line] of lines.entries())
    write(
      `${i === at ? '> ' : '   '}${line}`,
      row * (i + 3.2),
      i === at ? 700 : 400,
      i === at ? '#FFE08A' : '#D8DCE4',
    )
}
