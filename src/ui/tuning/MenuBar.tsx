/**
 * The camera's own menu, while it is open: arrows, enter, back and close. The arrow keys of the keyboard are its
 * arrows for so long, and the sticks drive nothing.
 */
import ArrowDown from 'lucide-react-native/icons/arrow-down'
import ArrowLeft from 'lucide-react-native/icons/arrow-left'
import ArrowRight from 'lucide-react-native/icons/arrow-right'
import ArrowUp from 'lucide-react-native/icons/arrow-up'
import { useEffect } from 'react'
import { StyleSheet, View } from 'react-native'
import type { MenuAction } from '../../core/orders/orders'
import { MENU } from '../../core/picture/settings'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { useFactValue } from '../live/useFactValue'
import { order } from '../presets/actions'
import { RADIUS, TONES } from '../theme/tones'

const KEYS: Readonly<Record<string, MenuAction>> = {
  ArrowUp: 'up',
  ArrowDown: 'down',
  ArrowLeft: 'left',
  ArrowRight: 'right',
  Enter: 'enter',
  Backspace: 'back',
  Escape: 'close',
}

export const useMenuOpen = (camera: string): boolean =>
  useFactValue('settings', camera, (values) => values?.[MENU] === true)

export const openMenu = (camera: string) => void order({ t: 'menu', camera, action: 'open' })

export function MenuBar({ camera }: { camera: string }) {
  const open = useMenuOpen(camera)
  return open ? <OpenMenu camera={camera} /> : null
}

function OpenMenu({ camera }: { camera: string }) {
  const act = (action: MenuAction) => void order({ t: 'menu', camera, action })
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const action = KEYS[event.key]
      const typing = event.target instanceof HTMLElement && /^(INPUT|TEXTAREA)$/.test(event.target.tagName)
      if (!action || typing || document.querySelector('[aria-modal="true"]')) return
      event.preventDefault()
      event.stopImmediatePropagation()
      void order({ t: 'menu', camera, action })
    }
    // Before all others: an arrow must not drive the head.
    window.addEventListener('keydown', onKey, true)
    return () => window.removeEventListener('keydown', onKey, true)
  }, [camera])
  const arrow = (action: MenuAction, Icon: typeof ArrowUp) => (
    <Key
      label=""
      accessibilityLabel={`Menu ${action}`}
      icon={<Icon size={20} color={TONES.sand} />}
      onPress={() => act(action)}
      testID={`menu-${action}`}
    />
  )
  return (
    <View style={styles.bar} testID="menu-bar" role="toolbar" accessibilityLabel="The camera's menu">
      <Words size={13} weight="bold" tone="clay" style={styles.word}>
        Menu open: arrows move in it, sticks do nothing
      </Words>
      {arrow('left', ArrowLeft)}
      {arrow('up', ArrowUp)}
      {arrow('down', ArrowDown)}
      {arrow('right', ArrowRight)}
      <Key label="Enter" tone="filled" onPress={() => act('enter')} testID="menu-enter" />
      <Key label="Back" onPress={() => act('back')} testID="menu-back" />
      <Key label="Close" onPress={() => act('close')} testID="menu-close" />
    </View>
  )
}

const styles = StyleSheet.create({
  bar: {
    ...{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 6, padding: 8 },
    ...{ backgroundColor: TONES.reed, borderColor: TONES.clay, borderWidth: 1, borderRadius: RADIUS.middle },
  },
  word: { width: '100%' },
})
