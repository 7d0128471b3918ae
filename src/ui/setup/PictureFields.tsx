/** Where the picture of a camera comes from. */
import { StyleSheet, View } from 'react-native'
import type { CameraView } from '../../server/api'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import type { PictureDraft, PictureKind, Problems } from './draft'
import { OpenPassword } from './OpenPassword'

const KINDS: readonly { value: PictureKind; label: string }[] = [
  { value: 'none', label: 'None' },
  { value: 'rtsp', label: 'RTSP' },
  { value: 'mjpeg', label: 'MJPEG' },
  { value: 'jpeg', label: 'Single JPEGs' },
  { value: 'cut-stream', label: 'Cut from a multiviewer' },
  { value: 'cut-camera', label: 'Cut from a camera' },
]
const STREAMS = [
  { value: 'mjpeg', label: 'MJPEG' },
  { value: 'jpeg', label: 'Single JPEGs' },
  { value: 'rtsp', label: 'RTSP' },
] as const

interface PictureFieldsProps {
  picture: PictureDraft
  problems: Problems
  keptPassword: boolean
  others: readonly CameraView[]
  onChange(picture: PictureDraft): void
}

export function PictureFields({ picture, problems, keptPassword, others, onChange }: PictureFieldsProps) {
  const set = (change: Partial<PictureDraft>) => onChange({ ...picture, ...change })
  const { kind } = picture
  const cut = kind === 'cut-stream' || kind === 'cut-camera'
  const stream = kind !== 'none' && kind !== 'cut-camera'
  const scheme = kind === 'rtsp' || (kind === 'cut-stream' && picture.streamKind === 'rtsp') ? 'rtsp' : 'http'
  const polled = kind === 'jpeg' || (kind === 'cut-stream' && picture.streamKind === 'jpeg')
  return (
    <View style={styles.fields}>
      <Choice
        label="Picture"
        options={KINDS}
        value={kind}
        onChange={(value) => set({ kind: value })}
        testID="picture-kind"
      />
      {kind === 'cut-stream' ? (
        <Choice
          label="The multiviewer gives"
          options={STREAMS}
          value={picture.streamKind}
          onChange={(streamKind) => set({ streamKind })}
        />
      ) : null}
      {stream ? (
        <>
          <Field
            label="Address of the picture"
            value={picture.url}
            placeholder={`${scheme}://192.168.1.31/…`}
            onChangeText={(url) => set({ url })}
            problem={problems['picture.url'] ?? problems['picture.stream.url']}
            testID="picture-url"
          />
          <View style={styles.row}>
            <Field
              label="User, if it needs a login"
              value={picture.user}
              onChangeText={(user) => set({ user })}
              testID="picture-user"
            />
            <Field
              label="Password"
              secureTextEntry
              value={picture.password ?? ''}
              placeholder={keptPassword && picture.password === null ? 'kept' : ''}
              onChangeText={(password) => set({ password })}
              testID="picture-password"
            />
            {polled ? (
              <Field
                label="A second"
                value={picture.perSec}
                inputMode="decimal"
                onChangeText={(perSec) => set({ perSec })}
                problem={problems['picture.perSec'] ?? problems['picture.stream.perSec']}
              />
            ) : null}
          </View>
          {picture.openly || (scheme === 'http' && picture.user !== '') ? (
            <OpenPassword
              value={picture.openly}
              onChange={(openly) => set({ openly })}
              testID="picture-openly"
            />
          ) : null}
        </>
      ) : null}
      {kind === 'cut-camera' ? (
        <Choice
          label="Cut from the picture of"
          options={others.map((c) => ({ value: c.id, label: `${c.number} ${c.name}` }))}
          value={picture.camera}
          onChange={(camera) => set({ camera })}
        />
      ) : null}
      {cut ? (
        <View style={styles.row}>
          {(
            [
              ['x', 'From the left, %'],
              ['y', 'From the top, %'],
              ['width', 'Width, %'],
              ['height', 'Height, %'],
            ] as const
          ).map(([name, label]) => (
            <Field
              key={name}
              label={label}
              value={picture[name]}
              inputMode="decimal"
              onChangeText={(text) => set({ [name]: text })}
              problem={problems[`picture.rect.${name}`] ?? (name === 'x' ? problems['picture.rect'] : null)}
              testID={`cut-${name}`}
            />
          ))}
        </View>
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  fields: { gap: 12 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
})
