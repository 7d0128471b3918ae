/** A name that is kept when its field is left. */
import { useState } from 'react'
import { Field } from '../../basics/Field'

interface NameFieldProps {
  label: string
  name: string
  onName(name: string): void
}

export function NameField({ label, name, onName }: NameFieldProps) {
  const [text, setText] = useState(name)
  const keep = () => {
    if (text.trim() !== name) onName(text.trim().slice(0, 40))
  }
  return (
    <Field
      label={label}
      value={text}
      onChangeText={setText}
      onBlur={keep}
      onSubmitEditing={keep}
      testID="point-name"
    />
  )
}
