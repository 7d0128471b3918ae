/** The pace of the next recall alone: shown on its key for as long as it waits. */
import Timer from 'lucide-react-native/icons/timer'
import { StyleSheet } from 'react-native'
import { paceText } from '../../core/presets/pace'
import { Choice } from '../basics/Choice'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Words } from '../basics/Words'
import { TONES } from '../theme/tones'
import { PACE_OPTIONS, paceFor, paceValue, setPaceOnce, usePaceOnce } from './paces'

export function PaceOnceKey({ onPress }: { onPress(): void }) {
  const once = usePaceOnce()
  const label = once ? paceText(once) || 'quick' : ''
  return (
    <Key
      label={label}
      accessibilityLabel={
        once ? `The next recall is ${label}. Press for its own pace.` : 'Pace of the next recall'
      }
      on={once !== null}
      icon={once ? undefined : <Timer size={20} color={TONES.sand} />}
      // Armed by mistake, it is cleared with one touch.
      onPress={once ? () => setPaceOnce(null) : onPress}
      style={styles.key}
      testID="pace-once"
    />
  )
}

export function PaceOnceSheet({ onClose }: { onClose(): void }) {
  const once = usePaceOnce()
  return (
    <Sheet title="Pace of the next recall" maxWidth={460} onClose={onClose} testID="pace-once-sheet">
      <Choice
        label="For the next one alone, whichever it is"
        options={[{ value: 'own', label: 'Its own' }, ...PACE_OPTIONS]}
        value={paceValue(once, 'own')}
        onChange={(value) => {
          setPaceOnce(paceFor(value))
          onClose()
        }}
        testID="once"
      />
      <Words size={14} tone="mist">
        After that every preset travels at its own pace again.
      </Words>
    </Sheet>
  )
}

const styles = StyleSheet.create({ key: { minWidth: 48, paddingHorizontal: 6 } })
