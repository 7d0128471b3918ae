/** All cameras' pictures at once; a touch takes a camera to the Desk. */

import { useState } from 'react'
import { type LayoutChangeEvent, Pressable, ScrollView, StyleSheet, View } from 'react-native'
import type { CameraView } from '../../server/api'
import { Key } from '../basics/Key'
import { useDescription } from '../basics/useDescription'
import { Words } from '../basics/Words'
import { useFact } from '../live/hooks'
import { Thumb } from '../picture/Thumb'
import { TallyFrame, TallyMark } from '../tally/TallyMark'
import { SPOKEN, useTally } from '../tally/useTally'
import { RADIUS, TONES } from '../theme/tones'
import { healthWords, isWell } from './healthWords'

const GAP = 10
const LEAST_WIDE = 240
/** Height of the line below each. */
const LINE = 36
const PER_SEC = 10

function One({
  view,
  width,
  chosen,
  onPress,
}: {
  view: CameraView
  width: number
  chosen: boolean
  onPress(): void
}) {
  const health = useFact('health', view.id)
  const words = healthWords(health, view.enabled)
  const { described, description } = useDescription(`Opens it on the Desk${SPOKEN[useTally(view.id)]}`)
  return (
    <Pressable
      onPress={onPress}
      accessibilityRole="button"
      {...described}
      testID={`all-${view.number}`}
      style={[styles.one, { width }, chosen && styles.chosen]}
    >
      <View>
        {view.enabled ? (
          <Thumb
            camera={view.id}
            width={width - 2}
            height={Math.round(((width - 2) * 9) / 16)}
            perSec={PER_SEC}
          />
        ) : (
          <View style={[styles.off, { height: Math.round(((width - 2) * 9) / 16) }]}>
            <Words tone="mist">Switched off in the desk</Words>
          </View>
        )}
        <TallyFrame camera={view.id} thick={5} />
      </View>
      <View style={styles.line}>
        <TallyMark camera={view.id} size={15} />
        <Words size={15} weight="semiBold" numberOfLines={1} style={styles.name}>
          {`${view.number} ${view.name}`}
        </Words>
        <Words size={13} tone={isWell(health, view.enabled) ? 'mist' : 'clay'}>
          {words}
        </Words>
      </View>
      {description}
    </Pressable>
  )
}

/** As large as they can be without scrolling; where that would be too small, in columns that scroll. */
function widthOfEach(count: number, width: number, height: number): number {
  let best = 0
  for (let columns = 1; columns <= Math.max(1, count); columns++) {
    const rows = Math.ceil(count / columns)
    const byWidth = (width - GAP * (columns - 1)) / columns
    const byHeight = (((height - GAP * (rows - 1)) / rows - LINE) * 16) / 9
    best = Math.max(best, Math.min(byWidth, byHeight))
  }
  const columns = Math.max(1, Math.floor((width + GAP) / (LEAST_WIDE + GAP)))
  const least = (width - GAP * (columns - 1)) / columns
  return Math.floor(best >= LEAST_WIDE ? best : Math.min(width, least))
}

interface AllPicturesProps {
  cameras: readonly CameraView[]
  primary: string
  onChoose(id: string): void
  onClose(): void
}

export function AllPictures({ cameras, primary, onChoose, onClose }: AllPicturesProps) {
  const [{ width, height }, setRoom] = useState({ width: 0, height: 0 })
  const each = widthOfEach(cameras.length, width, height)
  return (
    <View style={styles.page} testID="all-pictures-view">
      <View style={styles.head}>
        <Words size={18} weight="bold" style={styles.title}>
          All pictures
        </Words>
        <Key label="Back to the Desk" shortcut="G" onPress={onClose} testID="close-all-pictures" />
      </View>
      <ScrollView style={styles.scroll} onLayout={(e: LayoutChangeEvent) => setRoom(e.nativeEvent.layout)}>
        <View style={styles.grid}>
          {width > 0
            ? cameras.map((view) => (
                <One
                  key={view.id}
                  view={view}
                  width={each}
                  chosen={view.id === primary}
                  onPress={() => onChoose(view.id)}
                />
              ))
            : null}
        </View>
      </ScrollView>
    </View>
  )
}

const styles = StyleSheet.create({
  page: { flex: 1, minHeight: 0, padding: 12, gap: 10 },
  head: { flexDirection: 'row', alignItems: 'center', gap: 12 },
  title: { flex: 1 },
  scroll: { flex: 1 },
  grid: { flexDirection: 'row', flexWrap: 'wrap', gap: GAP },
  one: { borderWidth: 1, borderColor: TONES.line, borderRadius: RADIUS.small, overflow: 'hidden' },
  chosen: { borderColor: TONES.heron },
  off: { alignItems: 'center', justifyContent: 'center', backgroundColor: TONES.marsh },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: 8, paddingVertical: 6 },
  name: { flex: 1 },
})
