/** The check of a camera's head: four small nudges, what they show, and what mends it. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import type { AxisMend, HeadCheck } from '../../core/heads/check'
import type { CameraView } from '../../server/api'
import { checkHead, mendHead } from '../api/client'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'

const times = ({ delayMs, renewMs, byPicture }: HeadCheck): string =>
  [
    byPicture ? 'Checked against its picture.' : '',
    delayMs === null ? '' : `It reports a motion ${delayMs} ms after the order.`,
    renewMs === null ? '' : `Its position is renewed every ${renewMs} ms.`,
  ].join(' ')

export function HeadCheckPart({ view, onMended }: { view: CameraView; onMended(): void }) {
  const [working, setWorking] = useState(false)
  const [check, setCheck] = useState<HeadCheck | null>(null)
  const start = async () => {
    setWorking(true)
    setCheck(await told(() => checkHead(view.id)))
    setWorking(false)
  }
  const mend = async (mends: AxisMend[], confirmed: boolean) => {
    if (!(await told(() => mendHead(view.id, mends, confirmed)))) return
    note(confirmed ? 'The head profile is confirmed.' : 'Mended. Check the head once more.')
    onMended()
  }
  const fine = check?.findings.every((f) => f.kind === 'fine') === true
  return (
    <View style={styles.part} testID="head-check">
      <Words size={13} tone="mist">
        The camera turns a little to the right, left, up and down, and comes about where it was, unless it
        tells the range of its head itself. Not while it is on air.
      </Words>
      <View style={styles.keys}>
        <Key
          label={working ? 'Checking…' : 'Check the head'}
          disabled={working}
          onPress={() => void start()}
          testID="check-head"
        />
        {fine && !view.headConfirmed ? (
          <Key
            label="Confirm the profile"
            tone="filled"
            onPress={() => void mend([], true)}
            testID="confirm-head"
          />
        ) : null}
      </View>
      {check?.findings.map(({ axis, kind, words, mend: one }) =>
        kind === 'fine' ? (
          <Words key={axis + kind} size={14} testID={`found-${axis}-${kind}`}>
            {words}
          </Words>
        ) : (
          <View key={axis + kind} testID={`found-${axis}-${kind}`}>
            <Advice title={axis === 'pan' ? 'Pan' : 'Tilt'} text={words}>
              {one ? (
                <Key label="Mend" onPress={() => void mend([one], false)} testID={`mend-${axis}-${kind}`} />
              ) : null}
            </Advice>
          </View>
        ),
      )}
      {check ? (
        <Words size={13} tone="mist" testID="head-times">
          {times(check)}
        </Words>
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  part: { gap: 8 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
})
