/** A part of a sheet under its own heading. */
import type { ReactNode } from 'react'
import { StyleSheet, View } from 'react-native'
import { Words } from '../basics/Words'

export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <View style={styles.part}>
      <Words size={15} weight="bold">
        {title}
      </Words>
      {children}
    </View>
  )
}

const styles = StyleSheet.create({ part: { gap: 8, paddingTop: 4 } })
