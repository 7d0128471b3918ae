/** A device and its messages, each of which can be tried: the raw answer is shown. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import {
  type Device,
  type DeviceMessage,
  type DeviceState,
  type DeviceView,
  MESSAGE_VALUES,
} from '../../core/messages/device'
import { lineProblem } from '../../core/messages/line'
import { putDevice, tryMessage } from '../api/client'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'
import { newId } from './edit'
import { NumberField } from './NumberField'

const HOW =
  'One line: POST http://10.0.0.5/lights {"on":true} · TCP 10.0.0.5:4000 GO\\r\\n · UDP 10.0.0.5:9 hex: 02 31 03 · OSC 10.0.0.5:8000 /stage f:1 · SERIAL /dev/ttyUSB0@9600 GO\\r'
const newMessage = (n: number): DeviceMessage => ({
  ...{ id: newId().slice(0, 8), name: `Message ${n}`, line: '', expects: '', withinMs: 1500, retries: 0 },
})

export function DeviceSheet({ device, onClose }: { device: DeviceView | null; onClose(): void }) {
  const [id] = useState(() => device?.id ?? newId())
  const [draft, setDraft] = useState<Device>(() =>
    device
      ? { name: device.name, local: device.local, messages: device.messages }
      : { name: '', local: false, messages: [newMessage(1)] },
  )
  /** Null: the one that is kept. */
  const [secret, setSecret] = useState<string | null>(null)
  const set = (change: Partial<Device>) => setDraft({ ...draft, ...change })
  const setMessage = (at: number, change: Partial<DeviceMessage>) =>
    set({ messages: draft.messages.map((one, i) => (i === at ? { ...one, ...change } : one)) })
  const right =
    draft.name.trim() !== '' &&
    draft.messages.every(({ name, line }) => name.trim() !== '' && lineProblem(line, MESSAGE_VALUES) === null)
  const keep = async () => {
    if (await told(() => putDevice(id, draft, secret))) onClose()
  }
  return (
    <Sheet
      title={device ? device.name : 'New device'}
      onClose={onClose}
      maxWidth={760}
      testID="device-sheet"
      foot={
        <Key label="Keep" tone="filled" disabled={!right} onPress={() => void keep()} testID="keep-device" />
      }
    >
      <View style={styles.row}>
        <Field
          label="Name"
          value={draft.name}
          maxLength={60}
          onChangeText={(name) => set({ name })}
          testID="device-name"
        />
        <Field
          label="Secret, for {secret}"
          value={secret ?? ''}
          secureTextEntry
          placeholder={device?.hasSecret ? 'kept' : 'none'}
          onChangeText={setSecret}
        />
      </View>
      <Toggle
        label="It may stand on this computer itself"
        value={draft.local}
        onChange={(local) => set({ local })}
        testID="device-local"
      />
      <Words size={13} tone="mist">
        {HOW}
      </Words>
      {draft.messages.map((message, at) => (
        <MessageFields
          key={message.id}
          device={id}
          message={message}
          local={draft.local}
          secret={secret}
          onChange={(change) => setMessage(at, change)}
          onRemove={() => set({ messages: draft.messages.filter((_, i) => i !== at) })}
        />
      ))}
      <Key
        label="Another message"
        onPress={() => set({ messages: [...draft.messages, newMessage(draft.messages.length + 1)] })}
        style={styles.key}
        testID="new-message"
      />
    </Sheet>
  )
}

interface MessageFieldsProps {
  device: string
  message: DeviceMessage
  local: boolean
  secret: string | null
  onChange(change: Partial<DeviceMessage>): void
  onRemove(): void
}

function MessageFields({ device, message, local, secret, onChange, onRemove }: MessageFieldsProps) {
  const [answer, setAnswer] = useState<DeviceState | null>(null)
  const [trying, setTrying] = useState(false)
  const problem = message.line === '' ? null : lineProblem(message.line, MESSAGE_VALUES)
  const attempt = async () => {
    setTrying(true)
    setAnswer(await told(() => tryMessage(message, local, secret, device)))
    setTrying(false)
  }
  return (
    <View style={styles.message}>
      <View style={styles.row}>
        <Field
          label="Message"
          value={message.name}
          maxLength={60}
          onChangeText={(name) => onChange({ name })}
          testID="message-name"
        />
        <Field
          label="The answer must hold"
          value={message.expects}
          placeholder="any answer, or none"
          maxLength={200}
          onChangeText={(expects) => onChange({ expects })}
        />
      </View>
      <Field
        label="What is sent"
        value={message.line}
        problem={problem}
        maxLength={4000}
        onChangeText={(line) => onChange({ line })}
        testID="message-line"
      />
      <View style={styles.row}>
        <NumberField
          label="Within, ms"
          value={message.withinMs}
          least={100}
          most={10_000}
          whole
          onChange={(withinMs) => onChange({ withinMs })}
        />
        <NumberField
          label="Tries again"
          value={message.retries}
          least={0}
          most={5}
          whole
          onChange={(retries) => onChange({ retries })}
        />
        <Key
          label={trying ? 'Trying…' : 'Try it'}
          disabled={trying || problem !== null || message.line === ''}
          onPress={() => void attempt()}
          testID="try-message"
        />
        <Key label="Remove" tone="quiet" onPress={onRemove} />
      </View>
      {answer ? (
        <View style={styles.answer} testID="message-answer">
          <Words size={13} weight="semiBold" tone={answer.ok ? 'sand' : 'clay'}>
            {answer.ok ? '✓ It was taken.' : '△ It was not taken.'}
          </Words>
          <Words size={13} tone="mist">
            {answer.text || 'No answer came, and none was asked for.'}
          </Words>
        </View>
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10, alignItems: 'flex-end' },
  key: { alignSelf: 'flex-start' },
  message: { gap: 8, padding: 10, borderRadius: RADIUS.middle, borderWidth: 1, borderColor: TONES.line },
  answer: { gap: 4, padding: 8, borderRadius: RADIUS.small, backgroundColor: TONES.ink },
})
