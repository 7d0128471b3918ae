/** Styles that only the web target knows, typed as what React Native takes. */
import type { TextStyle, ViewStyle } from 'react-native'

interface WebStyle {
  touchAction?: 'none' | 'manipulation' | 'pan-y'
  userSelect?: 'none'
  cursor?: string
  outlineStyle?: string
  filter?: string
  fontVariant?: string
  minHeight?: 'auto'
  transitionDuration?: string
}

export const web = (style: WebStyle): ViewStyle & TextStyle => style as unknown as ViewStyle & TextStyle
