/** Before a camera photographs all that it can reach: what will happen, and the key that begins it. */
import { StyleSheet, View } from 'react-native'
import type { CameraView } from '../../server/api'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Words } from '../basics/Words'
import { order } from '../presets/actions'
import { saveFrom } from '../setup/files'

interface SurveySheetProps {
  view: CameraView
  /** The survey that there is already; null if there is none. */
  surveyId: string | null
  /** A part of it is to be drawn, and renewed. */
  onPart(): void
  onClose(): void
}

export function SurveySheet({ view, surveyId, onPart, onClose }: SurveySheetProps) {
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
          {surveyId ? <Key label="Only a part" onPress={onPart} testID="survey-part" /> : null}
          <Key label="Not now" onPress={onClose} />
        </>
      }
      testID="survey-sheet"
    >
      <Words size={15}>
        The camera zooms out and looks at everything within its limits, in one to two minutes. It moves
        quickly: begin only while it is off air, with the lights as they will be. Exposure and white balance
        are held as they are where it looks now, so let it look at what matters most.
      </Words>
      <Words size={14} tone="mist">
        Whoever drives it stops this at once. At the end it goes back to where it stands now.
        {surveyId ? ' The present survey stays until the new one is complete.' : ''}
      </Words>
      <View style={styles.keys}>
        <Key
          label="Was it bumped?"
          description="It looks again at a few places that it photographed, and tells how far its mount was turned."
          onPress={() => {
            onClose()
            void order({ t: 'startRound', camera: view.id, round: { kind: 'bump' } })
          }}
          testID="look-for-bump"
        />
      </View>
      {surveyId ? (
        <View style={styles.keys}>
          <Key
            label="Save its picture (PNG)"
            onPress={() => saveFrom(`/api/surveys/${surveyId}/picture.png`)}
            testID="save-survey"
          />
          <Key
            label="Save its projection (JSON)"
            onPress={() => saveFrom(`/api/surveys/${surveyId}/projection.json`)}
            testID="save-projection"
          />
        </View>
      ) : null}
    </Sheet>
  )
}

const styles = StyleSheet.create({ keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 } })
