/** A description of a control for screen readers. */
import { type ReactNode, useId } from 'react'
import { StyleSheet, View } from 'react-native'
import { Words } from './Words'

/** @returns what goes on the control, and what goes inside it; nothing is seen of either */
export function useDescription(text: string | undefined): { described: object; description: ReactNode } {
  const id = useId()
  if (!text) return { described: {}, description: null }
  return {
    described: { 'aria-describedby': id },
    description: (
      <View id={id} aria-hidden style={styles.hidden}>
        <Words>{text}</Words>
      </View>
    ),
  }
}

const styles = StyleSheet.create({ hidden: { display: 'none' } })
