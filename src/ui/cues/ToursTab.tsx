/** Tours and recorded moves: made, played, stopped. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import type { Part } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import { startTour, stopTour, tourGoesOn } from '../api/client'
import { Key } from '../basics/Key'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { ListCard } from '../setup/ListCard'
import { remove } from './edit'
import { MovesPart } from './MovesPart'
import { TourSheet } from './TourSheet'
import { useShow } from './useShow'
import { tourWords } from './words'

const STATE = {
  moving: 'on its way',
  dwelling: 'stands',
  waiting: 'waits',
  paused: 'paused',
  ended: '',
} as const

export function ToursTab({ desk }: { desk: DeskView }) {
  const show = useShow()
  const [edited, setEdited] = useState<Part<'tour'> | 'new' | null>(null)
  const { tours } = desk.show
  return (
    <View style={styles.tab}>
      <Words size={17} weight="bold">
        Tours
      </Words>
      <Words size={14} tone="mist">
        A tour takes one camera from preset to preset for as long as you like. A hand on that camera pauses
        it.
      </Words>
      {tours.map((tour) => {
        const now = show.tours.find((one) => one.tour === tour.id)
        const camera = desk.cameras.find(({ id }) => id === tour.camera)
        const at = desk.presets.find(({ id }) => id === now?.preset)
        const about = [camera ? `${camera.number} ${camera.name}` : 'camera that is gone', tourWords(tour)]
        const running = now ? [STATE[now.state], at?.name].filter(Boolean).join(': ') : null
        return (
          <ListCard
            key={tour.id}
            name={tour.name}
            about={[...about, running].filter(Boolean).join(' · ')}
            open={false}
            testID={`tour-${tour.name}`}
          >
            {now?.why ? (
              <Words size={14} tone="clay" style={styles.why} testID="tour-why">
                {now.why}
              </Words>
            ) : null}
            {now?.state === 'paused' ? (
              <Key
                label="Go on"
                tone="filled"
                onPress={() => void told(() => tourGoesOn(tour.id))}
                testID="tour-go-on"
              />
            ) : null}
            {now ? (
              <Key label="Stop" onPress={() => void told(() => stopTour(tour.id))} testID="tour-stop" />
            ) : (
              <Key
                label="Start"
                tone="filled"
                onPress={() => void told(() => startTour(tour.id))}
                testID="tour-start"
              />
            )}
            <Key label="Change" onPress={() => setEdited(tour)} />
            <Key label="Remove" onPress={() => void remove('tour', tour)} />
          </ListCard>
        )
      })}
      <Key
        label="New tour"
        onPress={() => setEdited('new')}
        disabled={desk.presets.length === 0}
        testID="new-tour"
        style={styles.key}
      />
      <MovesPart desk={desk} />
      {edited ? (
        <TourSheet
          key={edited === 'new' ? 'new' : edited.id}
          desk={desk}
          tour={edited === 'new' ? null : edited}
          onClose={() => setEdited(null)}
        />
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  tab: { gap: 10 },
  key: { alignSelf: 'flex-start' },
  why: { width: '100%' },
})
