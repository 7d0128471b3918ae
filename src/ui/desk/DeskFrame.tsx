/** What stands around the Desk: header, places, and all pictures in its stead. */

import { router } from 'expo-router'
import Layers from 'lucide-react-native/icons/layers'
import LayoutGrid from 'lucide-react-native/icons/layout-grid'
import Radio from 'lucide-react-native/icons/radio'
import type { ReactNode } from 'react'
import { StyleSheet, View } from 'react-native'
import type { CameraView, DeskView } from '../../server/api'
import { Key } from '../basics/Key'
import { setCueState } from '../cues/cueState'
import { GoBar } from '../cues/GoBar'
import { InterruptedBar } from '../cues/InterruptedBar'
import { useMay } from '../people/me'
import { Header } from '../places/Header'
import { PlacesBelow, PlacesBeside } from '../places/Places'
import { GuardControl } from '../tally/GuardSheet'
import { OnAirView } from '../tally/OnAirView'
import { TONES } from '../theme/tones'
import { AllPictures } from './AllPictures'
import type { Arrangement } from './arrangement'

interface DeskFrameProps {
  desk: DeskView
  plan: Arrangement
  /** In place of the header, while the Desk is arranged. */
  arranging: ReactNode
  /** The running order is along the bottom. */
  ordered: boolean
  view: CameraView
  /** All pictures are shown. */
  all: boolean
  /** Several cameras are driven at once, or are being chosen. */
  several: boolean
  onAll(all: boolean): void
  /** On air over next. */
  air: boolean
  onAir(air: boolean): void
  onSeveral(): void
  onChoose(id: string): void
  children: ReactNode
}

const openCue = (cue: string) => {
  setCueState({ tab: 'Order', cue })
  router.push('/cues')
}

export function DeskFrame(props: DeskFrameProps) {
  const {
    desk,
    plan,
    arranging,
    ordered,
    view,
    all,
    several,
    onAll,
    air,
    onAir,
    onSeveral,
    onChoose,
    children,
  } = props
  const maySetUp = useMay('setup')
  const low = plan.kind === 'low'
  const across = plan.kind === 'columns' || (low && plan.beside)
  return (
    <View style={styles.page}>
      {arranging ?? (
        <Header event={desk.event.name} venue={desk.venue.name} wide={across} slim={low}>
          {plan.kind === 'columns' && plan.roomy && maySetUp ? <GuardControl desk={desk} /> : null}
          {low ? null : (
            <Key
              label={across ? 'On air' : ''}
              accessibilityLabel="On air and next"
              tone={across ? 'plain' : 'quiet'}
              on={air}
              icon={across ? undefined : <Radio size={20} color={TONES.mist} />}
              onPress={() => onAir(!air)}
              style={across ? undefined : styles.icon}
              testID="on-air"
            />
          )}
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
      )}
      <View style={styles.body}>
        {low && !across ? <PlacesBeside /> : null}
        <View style={styles.main} role="main">
          {air ? (
            <OnAirView desk={desk} onDrive={onChoose} onClose={() => onAir(false)} />
          ) : all ? (
            <AllPictures
              cameras={desk.cameras}
              primary={view.id}
              onChoose={onChoose}
              onClose={() => onAll(false)}
            />
          ) : (
            children
          )}
          {/* Over the picture: what is below keeps its place under the thumbs. */}
          <View style={styles.over}>
            <InterruptedBar desk={desk} />
          </View>
        </View>
      </View>
      {ordered ? <GoBar desk={desk} onOpen={openCue} /> : null}
      {across || low ? null : <PlacesBelow />}
    </View>
  )
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: TONES.ink, minHeight: 0 },
  body: { flex: 1, flexDirection: 'row', minHeight: 0 },
  main: { flex: 1, minHeight: 0, minWidth: 0 },
  over: { position: 'absolute', top: 0, left: 0, right: 0, zIndex: 4, pointerEvents: 'box-none' },
  icon: { paddingHorizontal: 0, minHeight: 44 },
})
