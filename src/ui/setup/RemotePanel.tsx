/** Button boxes and other programs: their keys, OSC in and out, and all that can be asked for. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import { type OscSettings, REMOTE_RIGHTS, type RemoteRight, RIGHT_NAMES } from '../../core/remote/settings'
import type { RemoteSettings } from '../../server/api'
import { addRemoteKey, readRemoteSettings, removeRemoteKey, setOsc } from '../api/client'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { NumberField } from '../cues/NumberField'
import { RADIUS, TONES } from '../theme/tones'
import { ListCard } from './ListCard'

const DAY_MS = 86_400_000
const ENDS = [
  { value: 0, label: 'Never' },
  { value: 1, label: 'In a day' },
  { value: 7, label: 'In a week' },
  { value: 90, label: 'In 90 days' },
] as const

const dateOf = (iso: string) => iso.slice(0, 16).replace('T', ' ')

export function RemotePanel() {
  const { data, mutate } = useSWR<RemoteSettings>('remote', readRemoteSettings, { refreshInterval: 5000 })
  if (!data) return <Words tone="mist">Opening…</Words>
  return (
    <View style={styles.panel}>
      <Words tone="mist">
        Programs and button boxes can do what the Desk does, over HTTP with a key, or over OSC. Where the room
        is not your own, give each of them no more rights than it needs.
      </Words>
      <Keys settings={data} changed={() => void mutate()} />
      <Osc key={JSON.stringify(data.osc)} settings={data} changed={() => void mutate()} />
      <Words size={16} weight="bold" style={styles.title}>
        What can be asked for
      </Words>
      <Words size={13} tone="mist">
        Over HTTP as POST /api/remote/go, over OSC as /heron/go. * is a number or a name.
      </Words>
      {data.addresses.map(({ path, takes, does }) => (
        <Words key={path} size={14}>{`${path}${takes ? `  (${takes})` : ''}: ${does}.`}</Words>
      ))}
    </View>
  )
}

function Rights({
  rights,
  onChange,
}: {
  rights: readonly RemoteRight[]
  onChange(rights: RemoteRight[]): void
}) {
  return (
    <View style={styles.row}>
      {RIGHT_NAMES.map((right) => (
        <Toggle
          key={right}
          label={REMOTE_RIGHTS[right]}
          value={rights.includes(right)}
          onChange={(on) => onChange(on ? [...rights, right] : rights.filter((one) => one !== right))}
          testID={`right-${right}`}
        />
      ))}
    </View>
  )
}

interface PartProps {
  settings: RemoteSettings
  changed(): void
}

function Keys({ settings, changed }: PartProps) {
  const [name, setName] = useState('')
  const [rights, setRights] = useState<RemoteRight[]>(['cues', 'recall'])
  const [days, setDays] = useState<number>(7)
  const [made, setMade] = useState<string | null>(null)
  const make = async () => {
    const endsAt = days === 0 ? null : new Date(Date.now() + days * DAY_MS).toISOString()
    const answer = await told(() => addRemoteKey({ name: name.trim(), rights, endsAt }))
    if (!answer) return
    setMade(answer.key)
    setName('')
    changed()
  }
  const end = async (id: string, of: string) => {
    if (!(await told(() => removeRemoteKey(id)))) return
    note(`The key of “${of}” opens nothing any more.`)
    changed()
  }
  return (
    <>
      <Words size={16} weight="bold" style={styles.title}>
        Keys
      </Words>
      {settings.keys.map((key) => {
        const over = key.endsAt !== null && Date.parse(key.endsAt) <= Date.now()
        const about = [
          key.rights.join(', '),
          key.endsAt === null ? 'no end' : `${over ? 'ended' : 'until'} ${dateOf(key.endsAt)}`,
          key.lastUsedAt ? `used ${dateOf(key.lastUsedAt)}` : 'never used',
        ]
        return (
          <ListCard
            key={key.id}
            name={key.name}
            about={about.join(' · ')}
            open={false}
            testID={`key-${key.name}`}
          >
            <Key label="End it" onPress={() => void end(key.id, key.name)} testID={`end-${key.name}`} />
          </ListCard>
        )
      })}
      {made ? (
        <View style={styles.made} testID="new-key-shown">
          <Words weight="semiBold">The new key, shown this once. Copy it now:</Words>
          <Words selectable style={styles.mono} testID="new-key-text">
            {made}
          </Words>
          <Key label="I have it" onPress={() => setMade(null)} style={styles.key} />
        </View>
      ) : null}
      <View style={styles.row}>
        <Field
          label="For what"
          value={name}
          maxLength={60}
          placeholder="Button box"
          onChangeText={setName}
          testID="key-name"
        />
      </View>
      <Rights rights={rights} onChange={setRights} />
      <Choice label="Ends" options={ENDS} value={days} onChange={(value) => setDays(value)} />
      <Key
        label="Make a key"
        tone="filled"
        disabled={name.trim() === '' || rights.length === 0}
        onPress={() => void make()}
        style={styles.key}
        testID="make-key"
      />
    </>
  )
}

function Osc({ settings, changed }: PartProps) {
  const [draft, setDraft] = useState<OscSettings>(settings.osc)
  const [from, setFrom] = useState(settings.osc.from.join(' '))
  const set = (change: Partial<OscSettings>) => setDraft({ ...draft, ...change })
  const { feedback } = draft
  const keep = async () => {
    const senders = from.split(/[\s,;]+/).filter(Boolean)
    if (await told(() => setOsc({ ...draft, from: senders }))) changed()
  }
  return (
    <>
      <Words size={16} weight="bold" style={styles.title}>
        OSC
      </Words>
      <Words size={13} tone="mist">
        OSC has no keys: whoever is on this network can send it. Name the senders where you can.
      </Words>
      {settings.trouble ? <Words tone="clay">{`△ ${settings.trouble}`}</Words> : null}
      <Toggle
        label="Listen to OSC"
        value={draft.enabled}
        onChange={(enabled) => set({ enabled })}
        testID="osc-on"
      />
      <View style={styles.row}>
        <NumberField
          label="Port"
          value={draft.port}
          least={1024}
          most={65535}
          whole
          onChange={(port) => set({ port })}
          testID="osc-port"
        />
        <Field label="Only from these addresses" value={from} placeholder="all" onChangeText={setFrom} />
      </View>
      <Rights rights={draft.rights} onChange={(rights) => set({ rights })} />
      <Toggle
        label="Tell the state by OSC, for the lights of buttons"
        value={feedback !== null}
        onChange={(on) => set({ feedback: on ? { host: '10.0.0.9', port: 9000 } : null })}
      />
      {feedback ? (
        <View style={styles.row}>
          <Field
            label="To"
            value={feedback.host}
            onChangeText={(host) => set({ feedback: { ...feedback, host } })}
          />
          <NumberField
            label="Port"
            value={feedback.port}
            least={1}
            most={65535}
            whole
            onChange={(port) => set({ feedback: { ...feedback, port } })}
          />
        </View>
      ) : null}
      <Key label="Keep" tone="filled" onPress={() => void keep()} style={styles.key} testID="keep-osc" />
    </>
  )
}

const styles = StyleSheet.create({
  panel: { gap: 10 },
  title: { marginTop: 12 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10, alignItems: 'flex-end' },
  key: { alignSelf: 'flex-start' },
  made: { gap: 8, padding: 12, borderRadius: RADIUS.middle, borderWidth: 2, borderColor: TONES.heron },
  mono: { padding: 8, backgroundColor: TONES.ink },
})
