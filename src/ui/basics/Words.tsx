/** Text in the application's typeface, with tabular figures. */
import type { ReactNode } from 'react'
import { StyleSheet, Text, type TextProps } from 'react-native'
import { FACES, TONES } from '../theme/tones'

interface WordsProps extends TextProps {
  children: ReactNode
  size?: number
  weight?: keyof typeof FACES
  tone?: keyof typeof TONES
}

export function Words({
  children,
  size = 14,
  weight = 'regular',
  tone = 'sand',
  style,
  ...rest
}: WordsProps) {
  const face = {
    fontFamily: FACES[weight],
    fontSize: size,
    lineHeight: Math.round(size * 1.3),
    color: TONES[tone],
  }
  return (
    <Text {...rest} style={[styles.words, face, style]}>
      {children}
    </Text>
  )
}

const styles = StyleSheet.create({ words: { fontVariant: ['tabular-nums'] } })
