/** A place that is loaded when it is opened, with a word while it comes. */
import { type ComponentType, type LazyExoticComponent, Suspense } from 'react'
import { StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'
import { TONES } from '../theme/tones'

export function Later({ place: Place }: { place: LazyExoticComponent<ComponentType> }) {
  return (
    <Suspense
      fallback={
        <View style={styles.waiting}>
          <Words tone="mist">Opening…</Words>
        </View>
      }
    >
      <Place />
    </Suspense>
  )
}

const styles = StyleSheet.create({
  waiting: { flex: 1, alignItems: 'center', justifyContent: 'center', backgroundColor: TONES.ink },
})
