import { PresetsOnly } from '../ui/presets/PresetsOnly'

export default function PresetsRoute() {
  return <PresetsOnly />
}
