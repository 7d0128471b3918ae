/** The typefaces that ship with the application. */
import { AtkinsonHyperlegibleNext_400Regular } from '@expo-google-fonts/atkinson-hyperlegible-next/400Regular'
import { AtkinsonHyperlegibleNext_600SemiBold } from '@expo-google-fonts/atkinson-hyperlegible-next/600SemiBold'
import { AtkinsonHyperlegibleNext_700Bold } from '@expo-google-fonts/atkinson-hyperlegible-next/700Bold'
import { FACES } from './tones'

export const FONT_FILES = {
  [FACES.regular]: AtkinsonHyperlegibleNext_400Regular,
  [FACES.semiBold]: AtkinsonHyperlegibleNext_600SemiBold,
  [FACES.bold]: AtkinsonHyperlegibleNext_700Bold,
}
