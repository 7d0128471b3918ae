/** The sheets of the Desk, of which one at most is open. */
import type { DeskView, PresetView } from '../../server/api'
import type { NewStore } from '../presets/actions'
import { PaceOnceSheet } from '../presets/PaceOnce'
import { PresetSheet } from '../presets/PresetSheet'
import type { DeskState } from './deskState'
import { KeySheet } from './KeySheet'
import { MemoryStoreSheet } from './MemoryStoreSheet'
import { MoreSheet } from './MoreSheet'
import type { DeskCamera } from './useCamera'

interface DeskSheetsProps {
  desk: DeskView
  camera: DeskCamera
  presets: readonly PresetView[]
  state: DeskState
  onStore(wish: NewStore): void
}

export function DeskSheets({ desk, camera, presets, state, onStore }: DeskSheetsProps) {
  const { sheet, setSheet, setArranging, edited, setEdited, tool, setTool, toolPace, setToolPace } = state
  const close = () => setSheet(null)
  const preset = desk.presets.find((p) => p.id === edited)
  return (
    <>
      {preset ? (
        <PresetSheet key={preset.id} desk={desk} preset={preset} onClose={() => setEdited(null)} />
      ) : null}
      {sheet === 'pace' ? <PaceOnceSheet onClose={close} /> : null}
      {sheet === 'memory' ? (
        <MemoryStoreSheet
          camera={camera}
          presets={presets}
          onStore={(memory) => onStore({ memory, number: memory })}
          onClose={close}
        />
      ) : null}
      {sheet === 'keys' ? <KeySheet onClose={close} /> : null}
      {sheet === 'more' ? (
        <MoreSheet
          camera={camera}
          tool={tool}
          onTool={setTool}
          toolPace={toolPace}
          onToolPace={setToolPace}
          desk={desk}
          hasProgram={desk.tally.switcher.enabled && desk.tally.switcher.pictureUrl !== null}
          onArrange={() => {
            close()
            setArranging(true)
          }}
          onClose={close}
        />
      ) : null}
    </>
  )
}
