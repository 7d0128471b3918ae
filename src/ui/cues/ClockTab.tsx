/** Cues that the clock starts, in the venue's time. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { dueAfter } from '../../core/cues/clock'
import type { ClockStart, Part } from '../../core/cues/show'
import { isZone, wallTime } from '../../core/cues/zone'
import type { DeskView } from '../../server/api'
import { setTimeZone } from '../api/client'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { ListCard } from '../setup/ListCard'
import { add, change, dataOf, remove } from './edit'
import { clockText } from './useShow'

const TIME = /^([01]\d|2[0-3]):[0-5]\d$/
const DATE = /^\d{4}-\d{2}-\d{2}$/

function whenWords(start: ClockStart, zone: string): string {
  const day = start.date ?? 'every day'
  if (!start.enabled) return `${start.time}, ${day} · switched off`
  const due = dueAfter(start, Date.now(), zone)
  if (due === null) return `${start.time}, ${day} · past`
  const left = Math.round((due - Date.now()) / 60_000)
  const hours = Math.floor(left / 60)
  return `${start.time}, ${day} · in ${hours > 0 ? `${hours} h ` : ''}${left % 60} min`
}

export function ClockTab({ desk }: { desk: DeskView }) {
  const [edited, setEdited] = useState<Part<'start'> | 'new' | null>(null)
  const zone = desk.venue.timeZone
  return (
    <View style={styles.tab}>
      <Words size={14} tone="mist">
        {`It is ${clockText(Date.now(), zone)} here (${zone}). What is missed, as the server is down or the order held, is told and not done late, unless you ask for it.`}
      </Words>
      {desk.show.starts.map((start) => (
        <ListCard
          key={start.id}
          name={desk.show.cues.find(({ id }) => id === start.cue)?.name ?? 'A cue that is gone'}
          about={whenWords(start, zone)}
          open={false}
          testID={`start-${start.time}`}
        >
          <Toggle
            label="On"
            value={start.enabled}
            onChange={(enabled) => void change('start', start, { ...dataOf<'start'>(start), enabled })}
          />
          <Key label="Change" onPress={() => setEdited(start)} />
          <Key label="Remove" onPress={() => void remove('start', start)} />
        </ListCard>
      ))}
      <Key
        label="New start"
        disabled={desk.show.cues.length === 0}
        onPress={() => setEdited('new')}
        style={styles.key}
        testID="new-start"
      />
      <ZonePart key={zone} desk={desk} />
      {edited ? (
        <StartSheet
          key={edited === 'new' ? 'new' : edited.id}
          desk={desk}
          start={edited === 'new' ? null : edited}
          onClose={() => setEdited(null)}
        />
      ) : null}
    </View>
  )
}

function ZonePart({ desk }: { desk: DeskView }) {
  const [zone, setZone] = useState(desk.venue.timeZone)
  const right = isZone(zone.trim())
  return (
    <View style={styles.zone}>
      <Field
        label="Time zone of the venue"
        value={zone}
        maxLength={60}
        onChangeText={setZone}
        problem={right ? null : 'There is no such time zone. Write it as Europe/London.'}
        testID="time-zone"
      />
      {right && zone.trim() !== desk.venue.timeZone ? (
        <Key
          label="Keep"
          onPress={() => void told(() => setTimeZone(desk.venue.id, zone.trim()))}
          testID="keep-zone"
        />
      ) : null}
    </View>
  )
}

function StartSheet({
  desk,
  start,
  onClose,
}: {
  desk: DeskView
  start: Part<'start'> | null
  onClose(): void
}) {
  const today = wallTime(Date.now(), desk.venue.timeZone).date
  const [draft, setDraft] = useState<ClockStart>(() =>
    start
      ? dataOf<'start'>(start)
      : { cue: desk.show.cues[0]!.id, date: today, time: '19:30', enabled: true, late: false },
  )
  const set = (changed: Partial<ClockStart>) => setDraft({ ...draft, ...changed })
  const wrongTime = !TIME.test(draft.time)
  const wrongDate = draft.date !== null && (!DATE.test(draft.date) || Number.isNaN(Date.parse(draft.date)))
  const keep = async () => {
    if (await (start ? change('start', start, draft) : add('start', draft))) onClose()
  }
  return (
    <Sheet
      title={start ? 'Start by the clock' : 'New start by the clock'}
      onClose={onClose}
      testID="start-sheet"
      foot={
        <Key
          label="Keep"
          tone="filled"
          disabled={wrongTime || wrongDate}
          onPress={() => void keep()}
          testID="keep-start"
        />
      }
    >
      <Choice
        label="Cue"
        options={desk.show.cues.map(({ id, name }) => ({ value: id, label: name }))}
        value={draft.cue}
        onChange={(cue) => set({ cue })}
      />
      <Toggle
        label="Every day"
        value={draft.date === null}
        onChange={(daily) => set({ date: daily ? null : today })}
      />
      <View style={styles.row}>
        {draft.date === null ? null : (
          <Field
            label="Day"
            value={draft.date}
            maxLength={10}
            placeholder={today}
            onChangeText={(date) => set({ date })}
            problem={wrongDate ? `Write the day as ${today}.` : null}
            testID="start-date"
          />
        )}
        <Field
          label="Time"
          value={draft.time}
          maxLength={5}
          onChangeText={(time) => set({ time })}
          problem={wrongTime ? 'Write the time as 19:30.' : null}
          testID="start-time"
        />
      </View>
      <Toggle label="If it is missed, start it late" value={draft.late} onChange={(late) => set({ late })} />
      <Toggle label="Switched on" value={draft.enabled} onChange={(enabled) => set({ enabled })} />
    </Sheet>
  )
}

const styles = StyleSheet.create({
  tab: { gap: 10 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
  zone: { flexDirection: 'row', gap: 10, alignItems: 'flex-end', maxWidth: 420, paddingTop: 12 },
  key: { alignSelf: 'flex-start' },
})
