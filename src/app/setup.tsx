import { lazy } from 'react'
import { Later } from '../ui/places/Later'

const Setup = lazy(() => import('../ui/setup/Setup'))

export default function SetupPlace() {
  return <Later place={Setup} />
}
