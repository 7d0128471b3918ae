import { lazy } from 'react'
import { Later } from '../ui/places/Later'

const Tuning = lazy(() => import('../ui/tuning/Tuning'))

export default function PicturePlace() {
  return <Later place={Tuning} />
}
