/** How one device is reached. */
import { StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import { BAUDS, KINDS, type LinkField, SERIAL_FORMATS, SINGLE_KINDS } from '../../core/cameras/kinds'
import type { DeskView, Ways } from '../../server/api'
import { readWays } from '../api/client'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Toggle } from '../basics/Toggle'
import { Words } from '../basics/Words'
import { type LinkDraft, type Problems, withKind, withSecure } from './draft'
import { OpenPassword } from './OpenPassword'

interface LinkFieldsProps {
  /** "Head" or "Lens" of a rig; empty for a whole camera. */
  title: string
  id: string
  link: LinkDraft
  /** Where its problems stand, as "connection.head". */
  path: string
  problems: Problems
  keptPassword: boolean
  commandSets: DeskView['commandSets']
  onChange(link: LinkDraft): void
}

export function LinkFields(p: LinkFieldsProps) {
  const { link, problems, onChange, id } = p
  const at = (name: string) => problems[`${p.path}.${name}`] ?? null
  const set = (change: Partial<LinkDraft>) => onChange({ ...link, ...change })
  // A command set says itself what carries it.
  const chosenSet = p.commandSets.find((s) => s.id === link.set)
  const overHttp = link.kind !== 'commands' || chosenSet?.transport === 'http'
  const has = (field: LinkField) => KINDS[link.kind].fields.includes(field)
  return (
    <View style={styles.fields}>
      <Choice
        label={p.title ? `${p.title}: how it is reached` : 'How it is reached'}
        options={SINGLE_KINDS.map((kind) => ({ value: kind, label: KINDS[kind].words }))}
        value={link.kind}
        onChange={(kind) => onChange(withKind(link, kind))}
        testID={`${id}-kind`}
      />
      {has('host') ? (
        <View style={styles.row}>
          <Field
            label="Address"
            value={link.host}
            placeholder="192.168.1.31"
            onChangeText={(host) => set({ host })}
            problem={at('host')}
            testID={`${id}-host`}
            style={styles.wide}
          />
          <Field
            label="Port"
            value={link.port}
            inputMode="numeric"
            onChangeText={(port) => set({ port })}
            problem={at('port')}
            testID={`${id}-port`}
          />
        </View>
      ) : (
        <SerialFields {...p} problem={at('path')} />
      )}
      {has('set') ? (
        p.commandSets.length > 0 ? (
          <Choice
            label="Command set"
            options={p.commandSets.map((s) => ({ value: s.id, label: s.name }))}
            value={link.set}
            onChange={(value) => {
              const chosen = p.commandSets.find((s) => s.id === value)
              set({ set: value, port: String(chosen?.port ?? link.port) })
            }}
            testID={`${id}-set`}
          />
        ) : (
          <Words tone="clay">There is no command set yet. Add one in Setup, under Command sets.</Words>
        )
      ) : null}
      {has('user') ? (
        <View style={styles.row}>
          <Field
            label="User"
            value={link.user}
            onChangeText={(user) => set({ user })}
            testID={`${id}-user`}
          />
          <Field
            label="Password"
            secureTextEntry
            value={link.password ?? ''}
            placeholder={p.keptPassword && link.password === null ? 'kept' : ''}
            onChangeText={(password) => set({ password })}
            testID={`${id}-password`}
          />
        </View>
      ) : null}
      {has('secure') && overHttp ? (
        <Toggle
          label="HTTPS"
          value={link.secure === 'true'}
          onChange={(on) => set(withSecure(link, on))}
          testID={`${id}-secure`}
        />
      ) : null}
      {has('openly') && overHttp && link.secure !== 'true' && (link.user !== '' || link.openly === 'true') ? (
        <OpenPassword
          value={link.openly === 'true'}
          onChange={(on) => set({ openly: String(on) })}
          testID={`${id}-openly`}
        />
      ) : null}
    </View>
  )
}

function SerialFields({ link, id, onChange, problem }: LinkFieldsProps & { problem: string | null }) {
  const { data } = useSWR<Ways, Error>('ways', readWays, { refreshInterval: 2500 })
  const set = (change: Partial<LinkDraft>) => onChange({ ...link, ...change })
  const ports = data?.serialPorts ?? []
  return (
    <>
      {ports.length > 0 ? (
        <Choice
          label="Serial port"
          options={ports.map((port) => ({ value: port.path, label: port.name }))}
          value={link.path}
          onChange={(path) => set({ path })}
          testID={`${id}-serial`}
        />
      ) : (
        <Words tone="clay">
          {data ? 'This computer has no serial port now. Plug the adapter in.' : 'Looking for serial ports…'}
        </Words>
      )}
      <Field
        label="Port by its path"
        value={link.path}
        onChangeText={(path) => set({ path })}
        problem={problem}
        testID={`${id}-path`}
      />
      <Choice
        label="Place in the chain"
        options={['1', '2', '3', '4', '5', '6', '7'].map((n) => ({ value: n, label: n }))}
        value={link.address}
        onChange={(address) => set({ address })}
        testID={`${id}-address`}
      />
      <Choice
        label="Speed, bits per second"
        options={BAUDS.map((baud) => ({ value: String(baud), label: String(baud) }))}
        value={link.baud}
        onChange={(baud) => set({ baud })}
      />
      <Choice
        label="Format"
        options={SERIAL_FORMATS.map((format) => ({ value: format as string, label: format }))}
        value={link.format}
        onChange={(format) => set({ format })}
      />
    </>
  )
}

const styles = StyleSheet.create({
  fields: { gap: 12 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
  wide: { flexGrow: 3, minWidth: 180 },
})
