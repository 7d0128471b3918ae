import { lazy } from 'react'
import { Later } from '../ui/places/Later'

const HelperPreview = lazy(() => import('../ui/helpers/HelperPreview'))

export default function HelperPlace() {
  return <Later place={HelperPreview} />
}
