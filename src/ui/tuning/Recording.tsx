/** Starts and stops recording in the cameras that can: a dot, the time, and whether the camera confirms it. */
import { useEffect, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { RECORDING, RECORDING_SINCE } from '../../core/picture/settings'
import type { CameraView } from '../../server/api'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { useFact } from '../live/hooks'
import { live } from '../live/live'
import { order } from '../presets/actions'
import { TONES } from '../theme/tones'

const canRecord = (id: string) =>
  live()
    .fact('able', id)
    ?.settings.some(({ key }) => key === RECORDING) ?? false

const two = (x: number) => String(x).padStart(2, '0')
export function lengthText(ms: number): string {
  const s = Math.max(0, Math.floor(ms / 1000))
  const [hours, minutes] = [Math.floor(s / 3600), Math.floor(s / 60) % 60]
  return hours > 0 ? `${hours}:${two(minutes)}:${two(s % 60)}` : `${minutes}:${two(s % 60)}`
}

async function record(cameras: readonly string[], value: boolean): Promise<void> {
  const done = await Promise.all(
    cameras.map((camera) => order({ t: 'setting', camera, key: RECORDING, value })),
  )
  const taken = done.filter(Boolean).length
  if (cameras.length > 1) note(`${taken} of ${cameras.length} cameras ${value ? 'record' : 'have stopped'}.`)
}

export function Recording({ view, cameras }: { view: CameraView; cameras: readonly CameraView[] }) {
  const able = useFact('able', view.id)
  const values = useFact('settings', view.id)
  const [now, setNow] = useState(() => Date.now())
  const spec = able?.settings.find(({ key }) => key === RECORDING)
  const runs = values?.[RECORDING] === true
  useEffect(() => {
    if (!runs) return
    const timer = setInterval(() => setNow(Date.now()), 500)
    return () => clearInterval(timer)
  }, [runs])
  const all = cameras.filter(({ id, enabled }) => enabled && canRecord(id)).map(({ id }) => id)
  if (!spec && all.length === 0) return null
  const since = values?.[RECORDING_SINCE]
  const time = typeof since === 'number' ? ` ${lengthText(now - since)}` : ''
  const word = spec?.told === false ? ', not confirmed' : ''
  return (
    <>
      {spec ? (
        <Key
          label={runs ? `Recording${time}${word}` : 'Record'}
          on={runs}
          icon={<View style={[styles.dot, runs && styles.runs]} />}
          onPress={() => void record([view.id], !runs)}
          testID="record"
        />
      ) : null}
      {all.length > 1 ? (
        <Key
          label={runs ? 'Stop all' : 'Record all'}
          description="In all cameras that can record"
          onPress={() => void record(all, !runs)}
          testID="record-all"
        />
      ) : null}
    </>
  )
}

const styles = StyleSheet.create({
  dot: { width: 12, height: 12, borderRadius: 6, borderWidth: 2, borderColor: TONES.mist },
  // Not red, which is on air and nothing else.
  runs: { backgroundColor: TONES.clay, borderColor: TONES.clay },
})
