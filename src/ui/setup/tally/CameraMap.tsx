/** Which address of a source is which camera: typed, or learnt by putting the camera on program. */
import { useEffect, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { addressesOf, newlyOnAir, typedAddresses, withAddresses } from '../../../core/tally/learn'
import type { CameraView, TallyView } from '../../../server/api'
import { Field } from '../../basics/Field'
import { Key } from '../../basics/Key'
import { Words } from '../../basics/Words'

type Address = TallyView['sources'][number]['addresses'][number]

interface CameraMapProps {
  cameras: readonly CameraView[]
  map: Record<string, string>
  /** What the source has said; null while it is not listened to. */
  heard: readonly Address[] | null
  onChange(map: Record<string, string>): void
}

export function CameraMap({ cameras, map, heard, onChange }: CameraMapProps) {
  const [learning, setLearning] = useState<{ camera: CameraView; before: readonly Address[] } | null>(null)
  const lit = learning && heard ? newlyOnAir(learning.before, heard) : []
  const [found] = lit
  useEffect(() => {
    if (!learning || lit.length !== 1 || found === undefined) return
    onChange(withAddresses(map, learning.camera.id, [found]))
    setLearning(null)
  }, [learning, lit.length, found, map, onChange])
  const labels = new Map((heard ?? []).map((one) => [one.address, one]))
  return (
    <View style={styles.map}>
      {cameras.map((camera) => {
        const mine = addressesOf(map, camera.id)
        const seen = mine.map((address) => labels.get(address)).filter((one) => one !== undefined)
        return (
          <View key={camera.id} style={styles.row}>
            <Words size={15} weight="semiBold" style={styles.name} numberOfLines={1}>
              {`${camera.number} ${camera.name}`}
            </Words>
            <Typed
              label="Address"
              value={mine.join(', ')}
              hint={
                seen
                  .map(
                    ({ label, program, preview }) =>
                      `${label || 'heard'}${program ? ', on air' : preview ? ', preview' : ''}`,
                  )
                  .join('; ') || null
              }
              onDone={(text) => onChange(withAddresses(map, camera.id, typedAddresses(text)))}
              testID={`tally-address-${camera.number}`}
            />
            <Key
              label={learning?.camera.id === camera.id ? 'Stop' : 'Learn'}
              on={learning?.camera.id === camera.id}
              disabled={heard === null}
              onPress={() =>
                setLearning(learning?.camera.id === camera.id ? null : { camera, before: heard ?? [] })
              }
              testID={`tally-learn-${camera.number}`}
            />
          </View>
        )
      })}
      {heard === null ? (
        <Words size={13} tone="mist">
          Save the source first. Then its addresses can be learnt here.
        </Words>
      ) : null}
      {learning ? (
        <Words size={15} weight="semiBold" tone="heron" testID="tally-learning">
          {lit.length > 1
            ? `More than one went on air: ${lit.join(', ')}. Put another camera on program, then ${learning.camera.name} alone.`
            : `Put ${learning.camera.name} on program now. If it is there already, take it off first, then stop and begin again.`}
        </Words>
      ) : null}
    </View>
  )
}

interface TypedProps {
  label: string
  value: string
  hint: string | null
  onDone(text: string): void
  testID: string
}

/** What is typed counts once it is finished: "1" on the way to "12" is another camera's. */
function Typed({ value, onDone, ...rest }: TypedProps) {
  const [text, setText] = useState(value)
  useEffect(() => setText(value), [value])
  return <Field {...rest} value={text} onChangeText={setText} onBlur={() => text !== value && onDone(text)} />
}

const styles = StyleSheet.create({
  map: { gap: 8 },
  row: { flexDirection: 'row', alignItems: 'flex-end', gap: 8, flexWrap: 'wrap' },
  name: { width: 130, paddingBottom: 12 },
})
