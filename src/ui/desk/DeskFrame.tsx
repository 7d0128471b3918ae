/** What stands around the Desk: header, places, and all pictures in its stead. */
import Layers from 'lucide-react-native/icons/layers'
import LayoutGrid from 'lucide-react-native/icons/layout-grid'
import type { ReactNode } from 'react'
import { StyleSheet, View } from 'react-native'
import type { CameraView, DeskView } from '../../server/api'
import { Key } from '../basics/Key'
import { Header } from '../places/Header'
import { PlacesBelow, PlacesBeside } from '../places/Places'
import { TONES } from '../theme/tones'
import { AllPictures } from './AllPictures'
import type { Arrangement } from './arrangement'

interface DeskFrameProps {
  desk: DeskView
  plan: Arrangement
  view: CameraView
  /** All pictures are shown. */
  all: boolean
  /** Several cameras are driven at once, or are being chosen. */
  several: boolean
  onAll(all: boolean): void
  onSeveral(): void
  onChoose(id: string): void
  children: ReactNode
}

export function DeskFrame(props: DeskFrameProps) {
  const { desk, plan, view, all, several, onAll, onSeveral, onChoose, children } = props
  const low = plan.kind === 'low'
  const across = plan.kind === 'columns' || (low && plan.beside)
  return (
    <View style={styles.page}>
      <Header event={desk.event.name} venue={desk.venue.name} wide={across} slim={low}>
        {plan.kind === 'columns' || low ? null : (
          <>
            <Key
              label=""
              accessibilityLabel="Drive several"
              tone="quiet"
              on={several}
              icon={<Layers size={20} color={TONES.mist} />}
              onPress={onSeveral}
              style={styles.icon}
              testID="several"
            />
            <Key
              label=""
              accessibilityLabel="All pictures"
              tone="quiet"
              icon={<LayoutGrid size={20} color={TONES.mist} />}
              onPress={() => onAll(!all)}
              style={styles.icon}
              testID="all-pictures"
            />
          </>
        )}
      </Header>
      <View style={styles.body}>
        {low && !across ? <PlacesBeside /> : null}
        <View style={styles.main} role="main">
          {all ? (
            <AllPictures
              cameras={desk.cameras}
              primary={view.id}
              onChoose={onChoose}
              onClose={() => onAll(false)}
            />
          ) : (
            children
          )}
        </View>
      </View>
      {across || low ? null : <PlacesBelow />}
    </View>
  )
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: TONES.ink, minHeight: 0 },
  body: { flex: 1, flexDirection: 'row', minHeight: 0 },
  main: { flex: 1, minHeight: 0, minWidth: 0 },
  icon: { paddingHorizontal: 0, minHeight: 44 },
})
