/** Before a camera photographs all that it can reach: what will happen, and the key that begins it. */
import type { CameraView } from '../../server/api'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Words } from '../basics/Words'
import { order } from '../presets/actions'

interface SurveySheetProps {
  view: CameraView
  /** There is a survey already. */
  again: boolean
  onClose(): void
}

export function SurveySheet({ view, again, onClose }: SurveySheetProps) {
  const begin = async () => {
    onClose()
    await order({ t: 'startRound', camera: view.id, round: { kind: 'survey' } })
  }
  return (
    <Sheet
      title={`Survey with ${view.number} ${view.name}`}
      maxWidth={460}
      onClose={onClose}
      foot={
        <>
          <Key label="Begin" tone="filled" onPress={() => void begin()} testID="begin-survey" />
          <Key label="Not now" onPress={onClose} />
        </>
      }
      testID="survey-sheet"
    >
      <Words size={15}>
        The camera zooms out and looks at everything within its limits, in one to two minutes. It moves
        quickly: begin only while it is off air, with the lights as they will be.
      </Words>
      <Words size={14} tone="mist">
        Whoever drives it stops this at once. At the end it goes back to where it stands now.
        {again ? ' The present survey stays until the new one is complete.' : ''}
      </Words>
    </Sheet>
  )
}
