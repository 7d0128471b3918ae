/** Before a camera goes through all its presets: what will happen, and the key that begins it. */
import type { CameraView, PresetView } from '../../server/api'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Words } from '../basics/Words'
import { order } from './actions'

interface RenewSheetProps {
  view: CameraView
  presets: readonly PresetView[]
  onClose(): void
}

export function RenewSheet({ view, presets, onClose }: RenewSheetProps) {
  const begin = async () => {
    onClose()
    await order({ t: 'startRound', camera: view.id, round: { kind: 'pictures' } })
  }
  return (
    <Sheet
      title={`Renew the pictures of ${view.number} ${view.name}`}
      maxWidth={460}
      onClose={onClose}
      foot={
        <>
          <Key label="Begin" tone="filled" onPress={() => void begin()} testID="begin-renewing" />
          <Key label="Not now" onPress={onClose} />
        </>
      }
      testID="renew-sheet"
    >
      <Words size={15}>
        {`The camera goes to each of its ${presets.length} presets and takes the picture again. It moves quickly: begin only while it is off air.`}
      </Words>
      <Words size={14} tone="mist">
        Whoever drives it stops this at once. Former pictures are kept with each preset. At the end it goes
        back to where it stands now.
      </Words>
    </Sheet>
  )
}
