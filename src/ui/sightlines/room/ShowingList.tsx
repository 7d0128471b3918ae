/** Everyone who can show a place of the room; a press turns that camera there. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import type { Vec3 } from '../../../core/optics/sphere'
import type { Pace } from '../../../core/presets/pace'
import type { RoomSolved } from '../../../core/room/room'
import { hfovFor, ORDERS, type Order, type Showing, whoShows } from '../../../core/room/showing'
import type { DeskView } from '../../../server/api'
import { Choice } from '../../basics/Choice'
import { Key } from '../../basics/Key'
import { Words } from '../../basics/Words'
import { useMay } from '../../people/me'
import { order } from '../../presets/actions'
import type { SightOfCamera } from './useSights'

const SIZES = [
  { value: 0, label: 'zoom as it is' },
  { value: 1.5, label: '1.5 m' },
  { value: 3, label: '3 m' },
  { value: 6, label: '6 m' },
] as const

/** As "34° to the right, 12° above; 0.4 to 12 m wide". */
export function showingWords(
  { asideDeg, aboveDeg, narrowest, widest, within }: Showing,
  measured: boolean,
): string {
  if (!within) return 'cannot reach it'
  const side = Math.round(asideDeg)
  // Seen from above: a camera clockwise of the other stands to its left, as both look at the place.
  const aside = side === 0 ? 'same side' : `${Math.abs(side)}° to the ${side > 0 ? 'left' : 'right'}`
  const above = Math.round(aboveDeg)
  const height = above === 0 ? 'level' : `${Math.abs(above)}° ${above > 0 ? 'above' : 'below'}`
  const wide = measured ? `; ${narrowest.toFixed(1)} to ${widest.toFixed(0)} m wide` : ''
  return `${aside}, ${height}${wide}`
}

interface ShowingListProps {
  desk: DeskView
  solved: RoomSolved
  sights: readonly SightOfCamera[]
  place: Vec3
  /** Against whose line of sight angles are told. */
  reference: string
  pace: Pace | null
  /** Only the others, side by side. */
  others?: boolean
}

export function ShowingList({
  desk,
  solved,
  sights,
  place,
  reference,
  pace,
  others = false,
}: ShowingListProps) {
  const [by, setBy] = useState<Order>('angle')
  const [wide, setWide] = useState<number>(0)
  const mayDrive = useMay('drive')
  const all = whoShows(place, sights, reference, by)
  const shown = others ? all.filter(({ cameraId, within }) => within && cameraId !== reference) : all
  const go = (showing: Showing) => {
    const sight = sights.find(({ placed }) => placed.cameraId === showing.cameraId)?.sight
    if (!sight) return
    const zoom = wide > 0 ? sight.lens.zoomForHfov(hfovFor(showing, wide, sight)) : null
    void order({
      ...{ t: 'goToPose', camera: showing.cameraId, pace },
      pose: { ...sight.turned(showing), zoom, focusAuto: null, focus: null, encoder: null },
    })
  }
  if (others && shown.length === 0) return null
  return (
    <View style={others ? styles.row : styles.list} testID="showing">
      {others ? (
        <Words size={13} tone="mist">
          Also seen by
        </Words>
      ) : null}
      {shown.map((showing) => {
        const camera = desk.cameras.find(({ id }) => id === showing.cameraId)
        if (!camera) return null
        const name = `${camera.number} ${camera.name}`
        const key = (
          <Key
            key={camera.id}
            label={name}
            description="Turns it there."
            disabled={!mayDrive || !showing.within || !camera.enabled}
            onPress={() => go(showing)}
            style={others ? undefined : styles.name}
            testID={`show-${camera.number}`}
          />
        )
        return others ? (
          key
        ) : (
          <View key={camera.id} style={styles.line} testID={`showing-${camera.number}`}>
            {key}
            <Words size={13} tone="mist" style={styles.words}>
              {showingWords(showing, solved.measured)}
            </Words>
          </View>
        )
      })}
      {others ? null : (
        <>
          <Choice
            label="First by"
            options={ORDERS.map((value) => ({ value, label: value }))}
            value={by}
            onChange={(next) => setBy(next)}
            testID="showing-by"
          />
          {solved.measured ? (
            <Choice
              label="Picture’s width there"
              options={SIZES}
              value={wide}
              onChange={(next) => setWide(next)}
              testID="showing-wide"
            />
          ) : null}
        </>
      )}
    </View>
  )
}

const styles = StyleSheet.create({
  list: { gap: 8 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  name: { width: 140 },
  words: { flex: 1 },
  row: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    gap: 6,
    paddingHorizontal: 8,
    paddingTop: 6,
  },
})
