import { Desk } from '../ui/desk/Desk'

export default function DeskPlace() {
  return <Desk />
}
