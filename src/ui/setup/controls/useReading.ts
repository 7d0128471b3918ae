/** What a device says, some twenty times a second, for what shows it. */
import { useEffect, useState } from 'react'
import type { Reading } from '../../../core/controls/device'
import { devices } from '../../input/devices'

const EVERY_MS = 45

/** @param onReading is told each reading, whether it differs or not */
export function useReading(id: string, onReading?: (reading: Reading) => void): Reading | null {
  const [reading, setReading] = useState<Reading | null>(null)
  useEffect(() => {
    const timer = setInterval(() => {
      const next = devices.get(id)?.read() ?? null
      if (next) onReading?.(next)
      setReading(next && { axes: [...next.axes], buttons: [...next.buttons] })
    }, EVERY_MS)
    return () => clearInterval(timer)
  }, [id, onReading])
  return reading
}
