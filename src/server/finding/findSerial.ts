/** Counts the cameras on a serial line and asks each what it is. */
import type { SerialLines } from '../cameras/visca/serialLine'

export interface FoundSerial {
  path: string
  address: number
}

const COUNT_WITHIN_MS = 2200
const STEP_MS = 50

/** A line that is open already is counted already; another is opened and closed again. */
export async function findSerial(
  lines: SerialLines,
  path: string,
  signal: AbortSignal,
  found: (camera: FoundSerial) => void,
): Promise<void> {
  const line = lines.line({ path, baud: 9600, format: '8N1' })
  for (let ms = 0; ms < COUNT_WITHIN_MS && line.count === null && !signal.aborted; ms += STEP_MS) {
    await new Promise((resolve) => setTimeout(resolve, STEP_MS))
  }
  for (let address = 1; address <= (line.count ?? 0); address++) found({ path, address })
  lines.closeIfEmpty(path)
}
