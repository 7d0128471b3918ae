/** Setup, Log: who did what, the newest first, as it happens. */

import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import { ENTRY_KIND_NAMES, ENTRY_KINDS, type Entry, type EntryKind } from '../../core/people/journal'
import { keepJournalDays, readJournal } from '../api/people'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { under } from '../live/base'
import { TONES } from '../theme/tones'

const EVERY_MS = 2000
const KINDS = [
  { value: '', label: 'Everything' },
  ...ENTRY_KIND_NAMES.map((value) => ({ value, label: ENTRY_KINDS[value] })),
]
const DAYS = [7, 30, 90, 365] as const

export function JournalPanel() {
  const [kind, setKind] = useState<EntryKind | ''>('')
  const [text, setText] = useState('')
  const [refused, setRefused] = useState(false)
  const [older, setOlder] = useState<Entry[]>([])
  const wanted: Record<string, string> = {
    ...(kind === '' ? {} : { kind }),
    ...(text.trim() === '' ? {} : { text: text.trim() }),
    refused: refused ? '1' : '0',
  }
  const key = JSON.stringify(wanted)
  const { data, error, mutate } = useSWR(['journal', key], () => readJournal(wanted), {
    refreshInterval: EVERY_MS,
    keepPreviousData: true,
  })
  const set = (act: () => void) => {
    act()
    setOlder([])
  }
  const entries = [...(data?.entries ?? []), ...older].filter(
    ({ id }, i, all) => all.findIndex((one) => one.id === id) === i,
  )
  const more = async () => {
    const last = entries.at(-1)
    const next = last && (await told(() => readJournal({ ...wanted, before: String(last.id) })))
    if (next) setOlder([...older, ...next.entries])
  }
  return (
    <View style={styles.panel}>
      <View style={styles.row}>
        <Field
          label="Find"
          value={text}
          placeholder="a person, a camera, a preset"
          onChangeText={(next) => set(() => setText(next))}
          testID="log-find"
        />
        <Toggle
          label="Only what was refused"
          value={refused}
          onChange={(on) => set(() => setRefused(on))}
          testID="log-refused"
        />
      </View>
      <Choice
        label="What"
        options={KINDS}
        value={kind}
        onChange={(next) => set(() => setKind(next as EntryKind | ''))}
        testID="log-kind"
      />
      {error && !data ? <Words tone="clay">{`△ ${error.message}`}</Words> : null}
      {data && entries.length === 0 ? (
        <Words tone="mist">Nothing of this kind has happened yet.</Words>
      ) : null}
      <View role="list" testID="log">
        {entries.map((entry) => (
          <Line key={entry.id} entry={entry} />
        ))}
      </View>
      <View style={styles.row}>
        {entries.length >= 200 ? (
          <Key label="Show older" onPress={() => void more()} testID="log-older" />
        ) : null}
        <Key
          label="Export as CSV"
          onPress={() => window.open(under(`/api/journal/csv?${new URLSearchParams(wanted)}`), '_blank')}
          testID="log-csv"
        />
      </View>
      <Choice
        label="Kept for"
        options={DAYS.map((value) => ({ value, label: value === 365 ? 'A year' : `${value} days` }))}
        value={(data?.days ?? null) as (typeof DAYS)[number] | null}
        onChange={(days) => void told(() => keepJournalDays(days)).then(() => mutate())}
        testID="log-days"
      />
    </View>
  )
}

function Line({ entry }: { entry: Entry }) {
  const at = new Date(entry.at)
  const today = at.toDateString() === new Date().toDateString()
  const time = at.toLocaleTimeString('en-GB')
  return (
    <View style={styles.line} role="listitem">
      <Words size={13} tone="mist" style={styles.time}>
        {today ? time : `${at.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })} ${time}`}
      </Words>
      <Words size={14} weight="semiBold" style={styles.who} numberOfLines={1}>
        {entry.person || 'The desk'}
      </Words>
      <Words size={14} style={styles.what}>
        {entry.camera === '' ? entry.what : `${entry.camera}: ${entry.what}`}
        {entry.refused === null ? null : <Words size={14} tone="clay">{` △ ${entry.refused}`}</Words>}
      </Words>
    </View>
  )
}

const styles = StyleSheet.create({
  panel: { gap: 10 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10, alignItems: 'flex-end' },
  line: {
    ...{ flexDirection: 'row', flexWrap: 'wrap', columnGap: 10, paddingVertical: 6 },
    ...{ borderBottomWidth: 1, borderBottomColor: TONES.line },
  },
  time: { minWidth: 64 },
  who: { width: 110 },
  what: { flexGrow: 1, flexShrink: 1, flexBasis: 180 },
})
