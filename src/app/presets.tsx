import { lazy } from 'react'
import { Later } from '../ui/places/Later'

const PresetsOnly = lazy(() => import('../ui/presets/PresetsOnly'))

export default function PresetsPlace() {
  return <Later place={PresetsOnly} />
}
