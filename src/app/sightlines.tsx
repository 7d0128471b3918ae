import { lazy } from 'react'
import { Later } from '../ui/places/Later'

const Sightlines = lazy(() => import('../ui/sightlines/Sightlines'))

export default function SightlinesPlace() {
  return <Later place={Sightlines} />
}
