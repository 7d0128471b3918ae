import { lazy } from 'react'
import { Later } from '../ui/places/Later'

const Cues = lazy(() => import('../ui/cues/Cues'))

export default function CuesPlace() {
  return <Later place={Cues} />
}
