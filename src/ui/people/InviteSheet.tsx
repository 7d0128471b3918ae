/** A new invitation: for whom, what they may, until when, how often. */
import { useState } from 'react'
import { EVERYWHERE, type Grant } from '../../core/people/rights'
import type { DeskView } from '../../server/api'
import { invite } from '../api/people'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { told } from '../basics/told'
import { GrantFields } from './GrantFields'
import { localInput } from './times'

const HOUR_MS = 3_600_000
const ENDS = [
  { value: 4, label: 'In 4 hours' },
  { value: 12, label: 'In 12 hours' },
  { value: 72, label: 'In 3 days' },
  { value: -1, label: 'At a date' },
  { value: 0, label: 'When I end it' },
] as const
const USES = [
  { value: 1, label: 'Once' },
  { value: 5, label: '5 times' },
  { value: 0, label: 'Any number of times' },
] as const

interface InviteSheetProps {
  desk: DeskView
  onClose(): void
  onMade(id: string): Promise<void>
}

export function InviteSheet({ desk, onClose, onMade }: InviteSheetProps) {
  const [name, setName] = useState('')
  const [grant, setGrant] = useState<Grant>({ role: 'helper', reach: EVERYWHERE, events: {} })
  const [hours, setHours] = useState<number>(12)
  const [date, setDate] = useState(() => localInput(new Date(Date.now() + 12 * HOUR_MS)))
  const [uses, setUses] = useState<number>(1)
  const endsMs = hours === 0 ? null : hours === -1 ? Date.parse(date) : Date.now() + hours * HOUR_MS
  const wrong =
    endsMs === null || endsMs > Date.now()
      ? null
      : Number.isNaN(endsMs)
        ? 'Write it as 2026-11-28T22:00.'
        : 'This is in the past.'
  const make = async () => {
    const endsAt = endsMs === null ? null : new Date(endsMs).toISOString()
    const made = await told(() =>
      invite({ name: name.trim(), grant, endsAt, uses: uses === 0 ? null : uses }),
    )
    if (made) await onMade(made.id)
  }
  return (
    <Sheet
      title="Invite somebody"
      onClose={onClose}
      testID="invite-sheet"
      foot={
        <Key
          label="Make the link"
          tone="filled"
          disabled={name.trim() === '' || wrong !== null}
          onPress={() => void make()}
          testID="make-invitation"
        />
      }
    >
      <Field
        label="For whom, or what for"
        value={name}
        maxLength={60}
        placeholder="Robin, tables camera"
        onChangeText={setName}
        testID="invitation-name"
      />
      <GrantFields desk={desk} grant={grant} onChange={setGrant} />
      <Choice
        label="Ends"
        options={ENDS}
        value={hours as (typeof ENDS)[number]['value']}
        onChange={(value) => setHours(value)}
        testID="invitation-ends"
      />
      {hours === -1 ? (
        <Field
          label="Date and time"
          value={date}
          problem={wrong}
          onChangeText={setDate}
          testID="invitation-date"
        />
      ) : null}
      <Choice
        label="Can be used"
        options={USES}
        value={uses as (typeof USES)[number]['value']}
        onChange={(value) => setUses(value)}
        testID="invitation-uses"
      />
    </Sheet>
  )
}
