/** Asks for one name: of a venue, an event, a person. */
import { useState } from 'react'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'

/** What is named; without an id it is new. */
export interface Naming {
  id: string | null
  name: string
}

interface NameSheetProps {
  title: string
  naming: Naming
  maxLength?: number
  /** Of what: for the tests' names of field and key. */
  of: string
  onSave(naming: Naming): void
  onClose(): void
}

export function NameSheet({ title, naming, maxLength = 60, of, onSave, onClose }: NameSheetProps) {
  const [name, setName] = useState(naming.name)
  const save = () => name.trim() !== '' && onSave({ ...naming, name })
  return (
    <Sheet
      title={title}
      maxWidth={420}
      onClose={onClose}
      testID={`${of}-sheet`}
      foot={
        <Key
          label="Save"
          tone="filled"
          disabled={name.trim() === ''}
          onPress={save}
          testID={`save-${of}-name`}
        />
      }
    >
      <Field
        label="Name"
        value={name}
        maxLength={maxLength}
        onChangeText={setName}
        onSubmitEditing={save}
        testID={`${of}-name`}
      />
    </Sheet>
  )
}
