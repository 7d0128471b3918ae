/** The keys, each can be changed; two actions on one key are reported. */
import { useEffect, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import {
  ACTION_NAMES,
  ACTIONS,
  type ActionName,
  canBind,
  conflicts,
  keyOf,
  keyWord,
} from '../../../core/controls/actions'
import { Key } from '../../basics/Key'
import { fault } from '../../basics/notes'
import { Words } from '../../basics/Words'
import { changeControls, useControls } from '../../input/controlsStore'
import { keyNameOf } from '../../input/useKeys'
import { TONES } from '../../theme/tones'

export function KeyPanel() {
  const { keys } = useControls()
  const [asking, setAsking] = useState<ActionName | null>(null)
  const meets = conflicts(keys)

  useEffect(() => {
    if (!asking) return
    const onDown = (event: KeyboardEvent) => {
      event.preventDefault()
      event.stopPropagation()
      const key = keyNameOf(event)
      setAsking(null)
      if (!canBind(key)) {
        fault(`${keyWord(key)} is already in use. Choose another key.`)
        return
      }
      changeControls((c) => ({ ...c, keys: { ...c.keys, [asking]: key } }))
    }
    window.addEventListener('keydown', onDown, true)
    return () => window.removeEventListener('keydown', onDown, true)
  }, [asking])

  const usual = (name: ActionName) =>
    changeControls((c) => {
      const { [name]: _, ...others } = c.keys
      return { ...c, keys: others }
    })
  return (
    <View style={styles.panel}>
      <Words size={14} tone="mist">
        Digits recall presets and Enter ends a number; those stay. No key acts while you type or a sheet is
        open.
      </Words>
      {ACTION_NAMES.map((name) => {
        const others = meets.get(name)
        const key = keyOf(name, keys)
        return (
          <View key={name} style={styles.row} testID={`key-${name}`}>
            <View style={styles.words}>
              <Words size={15}>{ACTIONS[name].label}</Words>
              {others ? (
                <Words size={13} tone="clay" testID={`conflict-${name}`}>
                  {`Also: ${others.map((other) => ACTIONS[other].label).join(', ')}. Only the first acts.`}
                </Words>
              ) : null}
            </View>
            <Key
              label={asking === name ? 'Press a key' : key === '' ? 'none' : keyWord(key)}
              on={asking === name}
              onPress={() => setAsking(asking === name ? null : name)}
              style={styles.key}
              testID={`bind-${name}`}
            />
            {name in keys ? (
              <Key label="Default" onPress={() => usual(name)} testID={`usual-${name}`} />
            ) : null}
          </View>
        )
      })}
    </View>
  )
}

const styles = StyleSheet.create({
  panel: { gap: 4 },
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    minHeight: 50,
    borderBottomWidth: 1,
    borderBottomColor: TONES.line,
  },
  words: { flex: 1 },
  key: { minWidth: 104 },
})
