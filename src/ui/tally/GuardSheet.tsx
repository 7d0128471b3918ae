/** The on-air guard of the open event: what it does, and how gently. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { GUARD_MODES, type Guard } from '../../core/orders/guardSettings'
import type { DeskView } from '../../server/api'
import { changeEvent } from '../api/client'
import { Choice } from '../basics/Choice'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'

const MODE_WORDS: Record<Guard['mode'], { label: string; about: string }> = {
  off: { label: 'Off', about: 'Cameras on air move like all others.' },
  ease: {
    label: 'Ease',
    about: 'On air, recalls take their time, the stick is held back, and nudges and Aim are gentle.',
  },
  ask: {
    label: 'Ask',
    about: 'On air, a move has to be confirmed by holding a key. The stick is held back.',
  },
  refuse: { label: 'Refuse', about: 'A camera on air is not moved at all.' },
}
const SECONDS = [3, 5, 8, 12, 20].map((value) => ({ value, label: `${value} s` }))
const SPEEDS = [0.1, 0.25, 0.5, 1].map((value) => ({ value, label: `${value * 100} %` }))

export function GuardKey({ guard, onPress }: { guard: Guard; onPress(): void }) {
  return (
    <Key
      label={`Guard: ${MODE_WORDS[guard.mode].label.toLowerCase()}`}
      accessibilityLabel={`On-air guard: ${MODE_WORDS[guard.mode].label}. Press to change it.`}
      on={guard.mode !== 'off'}
      onPress={onPress}
      testID="guard"
    />
  )
}

/** The key with its sheet, for wherever there is room. */
export function GuardControl({ desk }: { desk: DeskView }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <GuardKey guard={desk.event.guard} onPress={() => setOpen(true)} />
      {open ? <GuardSheet desk={desk} onClose={() => setOpen(false)} /> : null}
    </>
  )
}

function GuardSheet({ desk, onClose }: { desk: DeskView; onClose(): void }) {
  const { event, cameras } = desk
  const { guard } = event
  const put = (change: Partial<Guard>) =>
    void told(() => changeEvent(event.id, { guard: { ...guard, ...change } }))
  const own = (id: string) => guard.speeds[id] ?? null
  const setOwn = (id: string, speed: number | null) => {
    const { [id]: _, ...others } = guard.speeds
    put({ speeds: speed === null ? others : { ...others, [id]: speed } })
  }
  return (
    <Sheet title="On-air guard" onClose={onClose} maxWidth={560} testID="guard-sheet">
      <Choice
        label="When a camera is on air"
        options={GUARD_MODES.map((value) => ({ value, label: MODE_WORDS[value].label }))}
        value={guard.mode}
        onChange={(mode) => put({ mode })}
        testID="guard-mode"
      />
      <Words tone="mist">{MODE_WORDS[guard.mode].about}</Words>
      <Choice
        label="A recall on air takes at least"
        options={SECONDS}
        value={guard.seconds}
        onChange={(seconds) => put({ seconds })}
        testID="guard-seconds"
      />
      <Choice
        label="The stick on air goes up to"
        options={SPEEDS}
        value={guard.speed}
        onChange={(speed) => put({ speed })}
        testID="guard-speed"
      />
      <Toggle
        label="Guard cameras on preview too"
        value={guard.preview}
        onChange={(preview) => put({ preview })}
        testID="guard-preview"
      />
      <Words size={16} weight="bold" style={styles.title}>
        Cameras with a stick speed of their own
      </Words>
      {cameras.map(({ id, number, name }) => (
        <View key={id}>
          <Choice
            label={`${number} ${name}`}
            options={[{ value: 0, label: 'As all' }, ...SPEEDS]}
            value={own(id) ?? 0}
            onChange={(speed) => setOwn(id, speed === 0 ? null : speed)}
          />
        </View>
      ))}
    </Sheet>
  )
}

const styles = StyleSheet.create({ title: { marginTop: 10 } })
