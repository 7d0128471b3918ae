import { Setup } from '../ui/setup/Setup'

export default function SetupPlace() {
  return <Setup />
}
