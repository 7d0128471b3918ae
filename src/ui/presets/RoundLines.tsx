/** Cameras that go through their presets or memories: how far, and the way to stop; at the end what came of it. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { roundWords } from '../../core/presets/round'
import type { CameraView } from '../../server/api'
import { pauseRound, stopRound } from '../api/client'
import { Key } from '../basics/Key'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { useFact } from '../live/hooks'
import { live } from '../live/live'
import { RADIUS, TONES } from '../theme/tones'

import { BumpSheet } from './BumpSheet'

const TROUBLES_SHOWN = 3

interface RoundLinesProps {
  cameras: readonly CameraView[]
  /** With what came of surveys; elsewhere the tiles need the room. */
  surveys?: boolean
}

export const RoundLines = ({ cameras, surveys = false }: RoundLinesProps) =>
  cameras.map((camera) => <RoundLine key={camera.id} {...{ camera, surveys }} />)

function RoundLine({ camera, surveys }: { camera: CameraView; surveys: boolean }) {
  const round = useFact('round', camera.id)
  const [mending, setMending] = useState(false)
  if (!round || (round.kind === 'survey' && round.state === 'finished' && !surveys)) return null
  const running = round.state === 'running'
  const share = round.total > 0 ? round.through / round.total : 0
  const more = round.troubles.length - TROUBLES_SHOWN
  return (
    <View style={styles.line} testID={`round-${camera.number}`}>
      <View style={styles.row}>
        <Words size={14} style={styles.grow}>
          {`${camera.number} ${camera.name}: ${roundWords(round)}`}
        </Words>
        {running ? (
          <Key
            label={round.paused ? 'Go on' : 'Pause'}
            onPress={() => void told(() => pauseRound(camera.id, !round.paused))}
            testID="pause-round"
          />
        ) : null}
        {round.state === 'finished' && round.bump && round.bumped ? (
          <Key label="Mend" tone="filled" onPress={() => setMending(true)} testID="see-bump" />
        ) : null}
        <Key
          label={running ? 'Stop' : 'OK'}
          tone={running ? 'filled' : 'plain'}
          onPress={() => (running ? void told(() => stopRound(camera.id)) : live().seenRound(camera.id))}
          testID={running ? 'stop-round' : 'seen-round'}
        />
      </View>
      {running ? (
        <View style={styles.track}>
          <View style={[styles.bar, { width: `${Math.round(share * 100)}%` }]} />
        </View>
      ) : null}
      {round.troubles.slice(0, TROUBLES_SHOWN).map((trouble) => (
        <Words key={trouble} size={13} tone="clay">
          {trouble}
        </Words>
      ))}
      {more > 0 ? (
        <Words size={13} tone="clay">
          {`and ${more} more`}
        </Words>
      ) : null}
      {mending && round.bump ? (
        <BumpSheet view={camera} found={round.bump} onClose={() => setMending(false)} />
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  line: {
    gap: 4,
    marginHorizontal: 12,
    marginBottom: 6,
    padding: 8,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.marsh,
  },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  grow: { flex: 1 },
  track: { height: 5, borderRadius: 3, backgroundColor: TONES.ink, overflow: 'hidden' },
  bar: { height: 5, backgroundColor: TONES.heron },
})
