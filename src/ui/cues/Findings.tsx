/** What the check has found in a cue, or in all of them, each with its mend. */
import { StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import type { Finding } from '../../core/cues/check'
import type { DeskView } from '../../server/api'
import { readCheck } from '../api/client'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { useAstray } from '../presets/astray'
import { RADIUS, TONES } from '../theme/tones'
import { changeCue } from './edit'
import { secondsText, stepWords } from './words'

const NONE: readonly Finding[] = []

/** Computed by the server, with the planner that moves the cameras. */
export function useFindings(desk: DeskView): {
  findings: readonly Finding[]
  checked: boolean
  again(): void
} {
  const version = desk.show.cues.map(({ id, version: v }) => `${id}${v}`).join()
  const astray = useAstray(desk.presets)
  const key = `check ${version} ${desk.presets.length} ${astray.join()}`
  const { data, mutate } = useSWR<Finding[]>(key, () => readCheck(astray), {
    refreshInterval: 10_000,
    keepPreviousData: true,
  })
  return { findings: data ?? NONE, checked: data !== undefined, again: () => void mutate() }
}

interface FindingsProps {
  desk: DeskView
  findings: readonly Finding[]
  /** With the names of the cues. */
  all?: boolean
  onOpen(cue: string, step: string | null): void
  after(): void
}

export function Findings({ desk, findings, all = false, onOpen, after }: FindingsProps) {
  return (
    <View style={styles.list}>
      {findings.map((one) => {
        const cue = desk.show.cues.find(({ id }) => id === one.cue)
        const step = cue?.steps.find(({ id }) => id === one.step)
        const where = [
          all ? cue?.name : null,
          step ? stepWords(desk, step.does).title : null,
          one.atS > 0 ? `at ${secondsText(one.atS)}` : null,
        ]
        const { mend } = one
        return (
          <View key={JSON.stringify(one)} style={styles.one} testID={`finding-${one.kind}`}>
            <View style={styles.text}>
              <Words size={13} tone="mist" numberOfLines={1}>
                {where.filter(Boolean).join(' · ')}
              </Words>
              <Words size={14} tone="clay">{`△ ${one.text}`}</Words>
            </View>
            <Key label="Show" onPress={() => onOpen(one.cue, one.step)} />
            {mend && cue ? (
              <Key
                label={mend.label}
                tone="filled"
                onPress={() => void changeCue(cue, mend.cue).then(after)}
                testID={`mend-${one.kind}`}
              />
            ) : null}
          </View>
        )
      })}
    </View>
  )
}

const styles = StyleSheet.create({
  list: { gap: 6 },
  one: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    gap: 8,
    padding: 8,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.marsh,
  },
  text: { flexGrow: 1, flexShrink: 1, flexBasis: 220, gap: 2 },
})
