/** Before something is deleted for good. */
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Words } from '../basics/Words'

interface DeleteSheetProps {
  name: string
  /** What goes with it. */
  text: string
  onDelete(): void
  onClose(): void
}

export function DeleteSheet({ name, text, onDelete, onClose }: DeleteSheetProps) {
  return (
    <Sheet
      title={`Delete ${name}?`}
      maxWidth={420}
      onClose={onClose}
      foot={
        <Key
          label="Delete for good"
          onPress={() => {
            onClose()
            onDelete()
          }}
          testID="delete-for-good"
        />
      }
    >
      <Words size={15}>{text}</Words>
    </Sheet>
  )
}
