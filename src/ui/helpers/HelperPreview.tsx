/** A helper's desk as its helper sees it, for whoever makes it. */
import { useLocalSearchParams } from 'expo-router'
import { HelperPage } from './HelperPage'

export default function HelperPreview() {
  const { desk } = useLocalSearchParams<{ desk?: string }>()
  return <HelperPage id={desk ?? ''} preview />
}
