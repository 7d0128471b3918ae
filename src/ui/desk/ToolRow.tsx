/** What a touch on the picture does, and how fast an aim or a frame is. */

import { memo } from 'react'
import { StyleSheet, View } from 'react-native'
import { keyOf, keyWord } from '../../core/controls/actions'
import type { Pace } from '../../core/presets/pace'
import { Key } from '../basics/Key'
import { useControls } from '../input/controlsStore'
import { nextToolPace, paceWords, TOOL_WORDS, TOOLS, type Tool } from '../picture/tools'

interface ToolRowProps {
  tool: Tool
  onTool(tool: Tool): void
  toolPace: Pace | null
  onToolPace(toolPace: Pace | null): void
  focusPoint: boolean
  shortcuts: boolean
}

export const ToolRow = memo(function ToolRow({
  tool,
  onTool,
  toolPace,
  onToolPace,
  focusPoint,
  shortcuts,
}: ToolRowProps) {
  const { keys } = useControls()
  const next = nextToolPace(toolPace)
  // With a keyboard at hand nudges have keys of their own.
  const shown = TOOLS.filter(
    (name) => (name !== 'focusPoint' || focusPoint) && (name !== 'nudge' || !shortcuts),
  )
  return (
    <View style={[styles.row, shortcuts && styles.middle]}>
      {shown.map((name) => (
        <Key
          key={name}
          label={TOOL_WORDS[name].label}
          on={name === tool}
          shortcut={shortcuts && name !== 'store' && name !== 'nudge' ? keyWord(keyOf(name, keys)) : null}
          onPress={() => onTool(name === tool ? 'store' : name)}
          style={styles.key}
          testID={`tool-${name}`}
        />
      ))}
      <Key
        label={`Pace: ${paceWords(toolPace)}`}
        description={`Of aim, frame, nudge and home. Press for ${paceWords(next)}.`}
        onPress={() => onToolPace(next)}
        style={styles.key}
        testID="pace"
      />
    </View>
  )
})

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  middle: { justifyContent: 'center' },
  key: { paddingHorizontal: 10 },
})
