/** Which lamps, or which OSC paths, of a source mean program and which preview. */
import type { TallySource } from '../../../core/tally/sources'
import { Choice } from '../../basics/Choice'
import { Field } from '../../basics/Field'
import { Words } from '../../basics/Words'

const BUSES = [
  { bus: 'program', label: 'Program' },
  { bus: 'preview', label: 'Preview' },
] as const
const LAMPS = [1, 2, 3, 4].map((value) => ({ value: value as 1 | 2 | 3 | 4, label: `Tally ${value}` }))
const LAMPS_5 = [
  { value: 'any', label: 'Any lamp' },
  { value: 'left', label: 'Left' },
  { value: 'text', label: 'Text' },
  { value: 'right', label: 'Right' },
] as const
const COLOURS = [
  { value: 'red', label: 'Red' },
  { value: 'green', label: 'Green' },
  { value: 'amber', label: 'Amber' },
  { value: 'any', label: 'Lit at all' },
] as const

interface MeaningProps {
  source: TallySource
  onChange(source: TallySource): void
}

export function MeaningFields({ source, onChange }: MeaningProps) {
  if (source.kind === 'osc-udp')
    return (
      <>
        {BUSES.map(({ bus, label }) => (
          <Field
            key={bus}
            label={`${label} path`}
            value={source[bus]}
            onChangeText={(text) => onChange({ ...source, [bus]: text })}
            testID={`tally-${bus}`}
          />
        ))}
        <Words size={13} tone="mist">
          {
            'With {input} in the path, the argument says whether that input is lit (1 or 0). Without it, the argument names the one input that is lit.'
          }
        </Words>
      </>
    )
  return (
    <>
      {BUSES.map(({ bus, label }) => {
        const set = (value: unknown) => onChange({ ...source, [bus]: value } as TallySource)
        const shown = source[bus]
        if (typeof shown === 'number')
          return (
            <Choice
              key={bus}
              label={`${label} is`}
              options={LAMPS}
              value={shown}
              onChange={set}
              testID={`tally-${bus}`}
            />
          )
        if (typeof shown === 'string') return null
        return [
          <Choice
            key={`${bus} lamp`}
            label={`${label} shows on`}
            options={LAMPS_5}
            value={shown.lamp}
            onChange={(lamp) => set({ ...shown, lamp })}
          />,
          <Choice
            key={`${bus} colour`}
            label={`${label} is`}
            options={COLOURS}
            value={shown.colour}
            onChange={(colour) => set({ ...shown, colour })}
          />,
        ]
      })}
    </>
  )
}
