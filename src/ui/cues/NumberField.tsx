/** A number to type, told on as soon as it is one. */
import { useEffect, useState } from 'react'
import { Field } from '../basics/Field'

interface NumberFieldProps {
  label: string
  value: number
  least: number
  most: number
  whole?: boolean
  onChange(value: number): void
  testID?: string
}

export function NumberField({
  label,
  value,
  least,
  most,
  whole = false,
  onChange,
  testID,
}: NumberFieldProps) {
  const [text, setText] = useState(String(value))
  const number = Number(text.replace(',', '.'))
  const right =
    text.trim() !== '' && number >= least && number <= most && (!whole || Number.isInteger(number))
  useEffect(() => setText(String(value)), [value])
  return (
    <Field
      label={label}
      value={text}
      inputMode={whole ? 'numeric' : 'decimal'}
      problem={right ? null : `From ${least} to ${most}${whole ? ', a whole number' : ''}.`}
      onChangeText={(next) => {
        setText(next)
        const typed = Number(next.replace(',', '.'))
        if (next.trim() !== '' && typed >= least && typed <= most && (!whole || Number.isInteger(typed)))
          onChange(typed)
      }}
      testID={testID}
    />
  )
}
