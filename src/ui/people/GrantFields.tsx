/** What somebody may, and how far: role, rights that differ, cameras, headings, cues, a helper's desk. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import {
  EVERYWHERE,
  type Grant,
  type Reach,
  RIGHT_NAMES,
  RIGHTS,
  type Right,
  ROLE_NAMES,
  ROLES,
  type Role,
} from '../../core/people/rights'
import { sectionsOf } from '../../core/presets/board'
import type { DeskView } from '../../server/api'
import { Choice } from '../basics/Choice'
import { Toggle } from '../basics/Toggle'
import { Words } from '../basics/Words'

interface GrantFieldsProps {
  desk: DeskView
  grant: Grant
  onChange(grant: Grant): void
}

export function GrantFields({ desk, grant, onChange }: GrantFieldsProps) {
  const [here, setHere] = useState(grant.events[desk.event.id] !== undefined)
  const reach = here ? (grant.events[desk.event.id] ?? grant.reach) : grant.reach
  const set = (change: Partial<Reach>) => {
    const next = { ...reach, ...change }
    onChange(
      here ? { ...grant, events: { ...grant.events, [desk.event.id]: next } } : { ...grant, reach: next },
    )
  }
  const scope = (own: boolean) => {
    setHere(own)
    const { [desk.event.id]: mine, ...others } = grant.events
    onChange({ ...grant, events: own ? { ...others, [desk.event.id]: mine ?? grant.reach } : others })
  }
  return (
    <View style={styles.all}>
      <Choice
        label="Role"
        options={ROLE_NAMES.map((value) => ({ value, label: ROLES[value].label }))}
        value={grant.role}
        onChange={(role) => onChange({ ...grant, role: role as Role })}
        testID="grant-role"
      />
      <Words size={13} tone="mist">
        {`${ROLES[grant.role].label}: ${ROLES[grant.role].about}.`}
      </Words>
      {grant.role === 'owner' ? null : (
        <>
          <Choice
            label="For"
            options={[
              { value: 'all', label: 'Every event' },
              { value: 'this', label: `Only ${desk.event.name}` },
            ]}
            value={here ? 'this' : 'all'}
            onChange={(value) => scope(value === 'this')}
            testID="grant-event"
          />
          <HelpersDesk desk={desk} reach={reach} set={set} />
          {reach.desk === null ? <Reaching desk={desk} reach={reach} set={set} /> : null}
          <Differing role={grant.role} reach={reach} set={set} />
        </>
      )}
    </View>
  )
}

interface PartProps {
  desk: DeskView
  reach: Reach
  set(change: Partial<Reach>): void
}

function HelpersDesk({ desk, reach, set }: PartProps) {
  if (desk.show.desks.length === 0 && reach.desk === null) return null
  return (
    <Choice
      label="At"
      options={[
        { value: '', label: 'The whole desk' },
        ...desk.show.desks.map(({ id, name }) => ({ value: id, label: `Helper’s desk: ${name}` })),
      ]}
      value={reach.desk ?? ''}
      onChange={(id) => set({ ...EVERYWHERE, rights: reach.rights, desk: id === '' ? null : String(id) })}
      testID="grant-desk"
    />
  )
}

function Reaching({ desk, reach, set }: PartProps) {
  const sections = sectionsOf(desk.presets).map(({ name }) => name)
  return (
    <>
      <Some
        label="Cameras"
        all="Every camera"
        items={desk.cameras.map(({ id, number, name }) => ({ id, label: `${number} ${name}` }))}
        chosen={reach.cameras}
        onChange={(cameras) => set({ cameras })}
      />
      {sections.some((name) => name !== '') ? (
        <Some
          label="Presets"
          all="Every preset"
          items={sections.map((name) => ({ id: name, label: name === '' ? 'Without a heading' : name }))}
          chosen={reach.sections}
          onChange={(chosen) => set({ sections: chosen })}
        />
      ) : null}
      {desk.show.cues.length > 0 ? (
        <Some
          label="Cues"
          all="Every cue"
          items={desk.show.cues.map(({ id, name }) => ({ id, label: name }))}
          chosen={reach.cues}
          onChange={(cues) => set({ cues })}
        />
      ) : null}
    </>
  )
}

interface SomeProps {
  label: string
  all: string
  items: readonly { id: string; label: string }[]
  chosen: readonly string[] | null
  onChange(chosen: string[] | null): void
}

function Some({ label, all, items, chosen, onChange }: SomeProps) {
  return (
    <View style={styles.some}>
      <Choice
        label={label}
        options={[
          { value: 'all', label: all },
          { value: 'some', label: 'Only some' },
        ]}
        value={chosen === null ? 'all' : 'some'}
        onChange={(value) => onChange(value === 'all' ? null : [])}
        testID={`grant-${label}`}
      />
      {chosen === null ? null : (
        <View style={styles.row}>
          {items.map(({ id, label: name }) => (
            <Toggle
              key={id}
              label={name}
              value={chosen.includes(id)}
              onChange={(on) => onChange(on ? [...chosen, id] : chosen.filter((one) => one !== id))}
              testID={`grant-${label}-${name}`}
            />
          ))}
        </View>
      )}
    </View>
  )
}

function Differing({ role, reach, set }: { role: Role } & Omit<PartProps, 'desk'>) {
  const usual = new Set<Right>(ROLES[role].rights)
  const toggle = (right: Right, on: boolean) => {
    const { [right]: _, ...others } = reach.rights
    set({ rights: on === usual.has(right) ? others : { ...others, [right]: on } })
  }
  const shown = RIGHT_NAMES.filter((right) => right !== 'people' && right !== 'see')
  return (
    <View style={styles.some}>
      <Words size={13} tone="mist">
        May
      </Words>
      <View style={styles.row}>
        {shown.map((right) => (
          <Toggle
            key={right}
            label={RIGHTS[right].label}
            value={reach.rights[right] ?? usual.has(right)}
            onChange={(on) => toggle(right, on)}
            testID={`grant-may-${right}`}
          />
        ))}
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  all: { gap: 12 },
  some: { gap: 4 },
  row: { flexDirection: 'row', flexWrap: 'wrap', columnGap: 14 },
})
