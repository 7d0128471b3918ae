/** What a camera has learnt of its head: each figure beside the one before, with how sure it is; then used, or not. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { learntRows } from '../../core/learning/told'
import type { CameraView } from '../../server/api'
import { applyLearnt, dropLearnt, type readLearnt } from '../api/client'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { Part } from '../desk/Part'
import { TONES } from '../theme/tones'
import { Compared } from './Compared'

interface LearntSheetProps {
  view: CameraView
  seen: NonNullable<Awaited<ReturnType<typeof readLearnt>>>
  onClose(): void
  onUsed(): void
}

const USED =
  'The camera has the profile that it learnt. Presets and limits keep their places; take its survey again.'

export function LearntSheet({ view, seen, onClose, onUsed }: LearntSheetProps) {
  const [working, setWorking] = useState(false)
  const { learnt, before, after } = seen
  const use = async () => {
    setWorking(true)
    const done = await told(() => applyLearnt(view.id))
    setWorking(false)
    if (!done) return
    note(USED)
    onClose()
    onUsed()
  }
  const drop = async () => {
    if (await told(() => dropLearnt(view.id))) onClose()
  }
  const foot = (
    <>
      <Key label="Throw it away" onPress={() => void drop()} testID="drop-learnt" />
      <View style={styles.space} />
      <Key label="Use it" tone="filled" disabled={working} onPress={() => void use()} testID="use-learnt" />
    </>
  )
  const speeds = (list: readonly number[]) => list.map((speed, i) => [i + 1, speed] as const)
  return (
    <Sheet
      title={`What ${view.name} learnt`}
      onClose={onClose}
      foot={foot}
      maxWidth={760}
      testID="learnt-sheet"
    >
      <Words size={14} tone="mist">
        {`Measured with ${before.name}. It is used only when you say so.`}
      </Words>
      <View>
        {learntRows(before, after, learnt).map(({ key, what, before: was, after: is, sure, changed }) => (
          <View key={key} style={styles.row} testID={`learnt-${key}`}>
            <Words size={14} style={styles.what}>
              {what}
            </Words>
            <View style={styles.figures}>
              <Words size={14} tone="mist" style={styles.was}>
                {was}
              </Words>
              <Words size={14} weight={changed ? 'bold' : 'regular'} style={styles.is}>
                {is}
              </Words>
              <Words size={13} tone="mist" style={styles.sure}>
                {sure}
              </Words>
            </View>
          </View>
        ))}
      </View>
      {learnt.focals && learnt.focals.length > 1 ? (
        <Part title="Focal length over the zoom">
          <Compared
            before={before.lens.zoomCurve}
            after={after.lens.zoomCurve}
            across="zoom"
            up="mm"
            testID="learnt-curve"
          />
        </Part>
      ) : null}
      {learnt.pan.stepsPerSec ? (
        <Part title="Speed of each step of the pan">
          <Compared
            before={speeds(before.pan.speedsDegPerSec)}
            after={speeds(after.pan.speedsDegPerSec)}
            across="step"
            up="°/s"
            testID="learnt-pan"
          />
        </Part>
      ) : null}
      {learnt.tilt.stepsPerSec ? (
        <Part title="Speed of each step of the tilt">
          <Compared
            before={speeds(before.tilt.speedsDegPerSec)}
            after={speeds(after.tilt.speedsDegPerSec)}
            across="step"
            up="°/s"
            testID="learnt-tilt"
          />
        </Part>
      ) : null}
    </Sheet>
  )
}

const styles = StyleSheet.create({
  space: { flex: 1 },
  row: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'baseline',
    gap: 4,
    paddingVertical: 6,
    borderBottomWidth: 1,
    borderColor: TONES.line,
  },
  what: { flexGrow: 1, flexBasis: 220 },
  figures: { flexDirection: 'row', gap: 8, flexGrow: 1, flexShrink: 1, flexBasis: 300, minWidth: 0 },
  was: { flex: 1 },
  is: { flex: 1 },
  sure: { width: 68, textAlign: 'right' },
})
