/** Storing on a camera that does not report its position: which of its own memories is to hold it. */
import { useState } from 'react'
import type { PresetView } from '../../server/api'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Words } from '../basics/Words'
import type { DeskCamera } from './useCamera'

interface MemoryStoreSheetProps {
  camera: DeskCamera
  presets: readonly PresetView[]
  onStore(memory: number): void
  onClose(): void
}

export function MemoryStoreSheet({ camera, presets, onStore, onClose }: MemoryStoreSheetProps) {
  const memories = camera.able?.memories ?? 0
  const used = new Set(presets.map((p) => p.memory))
  const free = Array.from({ length: memories }, (_, i) => i + 1).find((n) => !used.has(n)) ?? 1
  const [number, setNumber] = useState(String(free))
  const fits = /^\d{1,3}$/.test(number) && Number(number) >= 1 && Number(number) <= memories
  const store = () => {
    if (!fits) return
    onClose()
    onStore(Number(number))
  }
  return (
    <Sheet
      title="Store in a memory of the camera"
      maxWidth={460}
      onClose={onClose}
      foot={<Key label="Store" tone="filled" disabled={!fits} onPress={store} testID="store-in-memory" />}
      testID="memory-store-sheet"
    >
      <Words size={15}>
        This camera does not report its position. A preset of it is kept in one of its own memories, and
        whether it is reached cannot be seen here.
      </Words>
      <Field
        label={`Memory, 1 to ${memories}. What is in it is lost.`}
        value={number}
        inputMode="numeric"
        onChangeText={setNumber}
        onSubmitEditing={store}
        testID="store-memory-number"
      />
    </Sheet>
  )
}
