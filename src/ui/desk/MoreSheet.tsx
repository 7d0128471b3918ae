/** The controls that are wanted now and then: tools, focus, guides, speeds, limits, what the head can do by itself. */

import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { type Feel, feelFor } from '../../core/controls/controls'
import { can, isBlind } from '../../core/facts/capabilities'
import type { Pace } from '../../core/presets/pace'
import type { DeskView } from '../../server/api'
import { setLimit } from '../api/client'
import { Choice } from '../basics/Choice'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { Fader } from '../controls/Fader'
import { BoardButtons } from '../cues/BoardTab'
import { changeControls, changeFeel, useControls } from '../input/controlsStore'
import { under } from '../live/base'
import { SECOND_PAGE } from '../live/pageNumber'
import { GUIDE_WORDS, GUIDES, toggleGuide, useGuides } from '../picture/guides'
import type { Tool } from '../picture/tools'
import { goHome, order } from '../presets/actions'
import { setProgram, useBoardState } from '../presets/boardState'
import { PinnedSettings } from '../tuning/PinnedSettings'
import { HabitsPart } from './HabitsPart'
import { MemoryPart } from './MemoryPart'
import { Part } from './Part'
import { SettingsPart } from './SettingsPart'
import { ToolRow } from './ToolRow'
import type { DeskCamera } from './useCamera'

interface MoreSheetProps {
  desk: DeskView
  camera: DeskCamera
  tool: Tool
  onTool(tool: Tool): void
  toolPace: Pace | null
  onToolPace(toolPace: Pace | null): void
  /** Of the switcher. */
  hasProgram: boolean
  onArrange(): void
  onClose(): void
}

const LEAST = 0.05
const SPEEDS: readonly [keyof Feel, string][] = [
  ['pan', 'Pan'],
  ['tilt', 'Tilt'],
  ['zoom', 'Zoom'],
  ['focus', 'Focus'],
  ['slow', 'While slow is held'],
]
const EDGES = [
  ['left', 'Left edge'],
  ['right', 'Right edge'],
  ['up', 'Upper edge'],
  ['down', 'Lower edge'],
] as const
const NUDGES = [0.01, 0.02, 0.05, 0.1] as const

export function MoreSheet({
  camera,
  tool,
  onTool,
  toolPace,
  onToolPace,
  desk,
  hasProgram,
  onArrange,
  onClose,
}: MoreSheetProps) {
  const { program } = useBoardState()
  const { view, able, enabled } = camera
  const controls = useControls()
  const guides = useGuides()
  const feel = feelFor(controls, view.id)
  const [level, setLevel] = useState({ sensitivity: 2, size: 2 })
  const limited = view.limits !== null
  const subject = (on: boolean) => void order({ t: 'followSubject', camera: view.id, on, ...level })
  const edge = async (name: (typeof EDGES)[number][0] | 'none') => {
    if (await told(() => setLimit(view.id, name)))
      note(name === 'none' ? 'This camera has no limits now.' : 'The limit is set where the camera stands.')
  }
  const levels = (count: number) =>
    Array.from({ length: count }, (_, i) => ({ value: i + 1, label: String(i + 1) }))
  return (
    <Sheet title={`More for ${view.number} ${view.name}`} onClose={onClose} testID="more-sheet">
      <Part title="A touch on the picture">
        <ToolRow
          tool={tool}
          onTool={(next) => {
            onTool(next)
            onClose()
          }}
          toolPace={toolPace}
          onToolPace={onToolPace}
          focusPoint={can(able, 'focusAt')}
          shortcuts={false}
        />
        <Choice
          label="One nudge, of the picture's width"
          options={NUDGES.map((n) => ({ value: n, label: `${n * 100} %` }))}
          value={controls.nudge}
          onChange={(nudge) => changeControls((c) => ({ ...c, nudge }))}
          testID="nudge-by"
        />
      </Part>
      <Part title="Your Desk">
        <View style={styles.row}>
          <Key
            label="Arrange"
            description="Move, hide and resize the blocks of the Desk in a window of this shape"
            onPress={onArrange}
            testID="arrange"
          />
          <Key
            label="Open a second page"
            description="For a second screen, with an arrangement of its own"
            onPress={() => window.open(under(SECOND_PAGE), '_blank', 'noopener')}
            testID="second-page"
          />
        </View>
      </Part>
      <Part title="Framing guides">
        <View style={styles.row}>
          {GUIDES.map((guide) => (
            <Key
              key={guide}
              label={GUIDE_WORDS[guide]}
              on={guides.includes(guide)}
              onPress={() => toggleGuide(guide)}
              testID={`guide-${guide}`}
            />
          ))}
        </View>
      </Part>
      {hasProgram ? (
        <Part title="On air">
          <Toggle
            label="Program picture below the cameras, where the window is wide"
            value={program}
            onChange={setProgram}
            testID="show-program"
          />
        </Part>
      ) : null}
      <Part title="Focus, home and lamp">
        <View style={styles.row}>
          <Key
            label="Focus once"
            disabled={!enabled || !can(able, 'focusOnce')}
            onPress={() => void order({ t: 'focusOnce', camera: view.id })}
            testID="focus-once"
          />
          {can(able, 'home') ? (
            <Key label="Home" disabled={!enabled} onPress={() => void goHome(view.id, toolPace)} />
          ) : null}
          {can(able, 'lamp') ? (
            <Key
              label="Flash its tally lamp"
              disabled={!enabled}
              onPress={() => void order({ t: 'lamp', camera: view.id, lamp: 'flash' })}
              testID="flash-lamp"
            />
          ) : null}
        </View>
      </Part>
      <PinnedSettings camera={camera} />
      <SettingsPart camera={camera} />
      {able?.subject ? (
        <Part title="Follow a subject by itself">
          <Choice
            label="From calm to quick"
            options={levels(able.subject.sensitivity)}
            value={level.sensitivity}
            onChange={(sensitivity) => setLevel({ ...level, sensitivity })}
          />
          <Choice
            label="From wide to close"
            options={levels(able.subject.size)}
            value={level.size}
            onChange={(size) => setLevel({ ...level, size })}
          />
          <View style={styles.row}>
            <Key
              label="Follow"
              tone="filled"
              disabled={!enabled}
              onPress={() => subject(true)}
              testID="subject-on"
            />
            <Key
              label="Stop following"
              disabled={!enabled}
              onPress={() => subject(false)}
              testID="subject-off"
            />
          </View>
        </Part>
      ) : null}
      {desk.show.buttons.length > 0 ? (
        <Part title="Board">
          <BoardButtons desk={desk} />
        </Part>
      ) : null}
      <HabitsPart camera={camera} />
      <MemoryPart camera={camera} onClose={onClose} />
      <Part title="Speeds for this camera">
        {SPEEDS.map(([name, label]) => (
          <Fader
            key={name}
            label={label}
            value={feel[name]}
            text={`${Math.round(feel[name] * 100)} %`}
            onChange={(value) => changeFeel(view.id, { [name]: Math.max(LEAST, value) })}
            testID={`feel-${name}`}
          />
        ))}
      </Part>
      <Part title="Limits">
        <Words size={14} tone="mist">
          {limited
            ? 'This camera has limits: see the edge scales. Presets beyond them are not recalled.'
            : 'Drive the camera to where it must not go beyond, then set that edge here.'}
        </Words>
        <View style={styles.row}>
          {EDGES.map(([name, label]) => (
            <Key
              key={name}
              label={label}
              disabled={!enabled || (able !== null && isBlind(able))}
              onPress={() => void edge(name)}
              testID={`limit-${name}`}
            />
          ))}
          {limited ? <Key label="No limits" onPress={() => void edge('none')} testID="limit-none" /> : null}
        </View>
      </Part>
    </Sheet>
  )
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'flex-end', gap: 8 },
})
