/** The sheet of one preset: what it is called, where it stands, how it travels, what was stored in it before. */
import { useEffect, useRef, useState } from 'react'
import { StyleSheet, TextInput, View } from 'react-native'
import { MARKS, suggestions } from '../../core/presets/board'
import type { Parts } from '../../core/presets/pace'
import { type PresetPose, unknownOf } from '../../core/presets/pose'
import type { DeskView, PresetView } from '../../server/api'
import { changePreset, type PresetChange, putPicture, retakePicture } from '../api/client'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { chooseFile } from '../setup/files'
import { FACES, RADIUS, TONES, TOUCH } from '../theme/tones'
import { web } from '../theme/web'
import { overwrite, remove, rename } from './actions'
import { MoveDrawn } from './MoveDrawn'
import { PresetCopies } from './PresetCopies'
import { PresetHistory } from './PresetHistory'
import { PresetKeeps } from './PresetKeeps'
import { PACE_OPTIONS, paceFor, paceValue } from './paces'

const LONGEST = 60
const OWN = 'own'
const PARTS: readonly [keyof Parts, string][] = [
  ['panTilt', 'Pan and tilt'],
  ['zoom', 'Zoom'],
  ['focus', 'Focus'],
  ['light', 'Exposure and white balance'],
]

function storedAt(pose: PresetPose): string {
  const deg = (axis: string, value: number | null) => (value === null ? [] : [`${axis} ${value.toFixed(1)}°`])
  const known = [...deg('pan', pose.panDeg), ...deg('tilt', pose.tiltDeg)]
  const unknown = unknownOf(pose)
  return [
    known.length > 0 ? `Stored at ${known.join(', ')}.` : '',
    unknown.length > 0
      ? `The camera does not report its ${unknown.join(' and ')}, so that stays as it is.`
      : '',
  ].join(' ')
}

export function PresetSheet({
  desk,
  preset,
  onClose,
}: {
  desk: DeskView
  preset: PresetView
  onClose(): void
}) {
  const [name, setName] = useState(preset.name)
  const [section, setSection] = useState(preset.section)
  const input = useRef<TextInput | null>(null)
  useEffect(() => {
    // After the sheet has opened, so that the name is ready to be typed over.
    const timer = setTimeout(() => {
      // On a slow machine another field may be in use by now: what is typed stays there.
      const inUse = document.activeElement
      if (inUse?.tagName === 'INPUT' && inUse !== (input.current as unknown)) return
      input.current?.focus()
      ;(input.current as unknown as HTMLInputElement | null)?.select?.()
    }, 60)
    return () => clearTimeout(timer)
  }, [])
  const save = async () => {
    if (name.trim() !== '' && (await rename(preset, name))) onClose()
  }
  const change = (what: PresetChange) => void told(() => changePreset(preset.id, what))
  const sections = [
    ...new Set(desk.presets.filter((p) => p.cameraId === preset.cameraId).map((p) => p.section)),
  ].filter(Boolean)
  const hints = name === preset.name ? desk.event.words.slice(0, 8) : suggestions(desk.event.words, name)
  const { pose } = preset
  const upload = async () => {
    const file = await chooseFile('image/*')
    if (file && (await told(() => putPicture(preset.id, file)))) note('The tile has your picture now.')
  }
  const owner = desk.cameras.find(({ id }) => id === preset.cameraId)
  return (
    <Sheet title={`Preset ${preset.number}`} maxWidth={520} onClose={onClose} testID="preset-sheet">
      <TextInput
        ref={input}
        testID="preset-name"
        accessibilityLabel="Name"
        value={name}
        maxLength={LONGEST}
        onChangeText={setName}
        onSubmitEditing={() => void save()}
        style={[styles.input, web({ outlineStyle: 'none' })]}
      />
      {hints.length > 0 ? (
        <View style={styles.row}>
          {hints.map((word) => (
            <Key key={word} label={word} onPress={() => setName(word)} testID={`word-${word}`} />
          ))}
        </View>
      ) : null}
      <View style={styles.row}>
        <Key
          label="Save name"
          tone="filled"
          disabled={name.trim() === ''}
          onPress={() => void save()}
          testID="save-name"
        />
        <Key
          label="Store over it"
          testID="store-over"
          onPress={() => {
            onClose()
            void overwrite(preset)
          }}
        />
        <Key
          label="Delete"
          testID="delete-preset"
          onPress={() => {
            onClose()
            void remove(preset)
          }}
        />
      </View>
      <Words size={13} tone="mist">
        {`Storing over and deleting can be undone. ${
          pose ? storedAt(pose) : 'This camera does not report its position.'
        }`}
      </Words>
      <Toggle
        label="Pin to the board shared by all cameras"
        value={preset.pinned !== null}
        onChange={(pinned) => change({ pinned })}
        testID="pinned"
      />
      <View style={styles.row}>
        <Field
          label="Section"
          value={section}
          maxLength={40}
          placeholder="none"
          onChangeText={setSection}
          onSubmitEditing={() => change({ section })}
          testID="preset-section"
        />
        <Key
          label="Set"
          disabled={section === preset.section}
          onPress={() => change({ section })}
          style={styles.set}
          testID="set-section"
        />
      </View>
      {sections.length > 0 ? (
        <View style={styles.row}>
          {['', ...sections].map((other) => (
            <Key
              key={other}
              label={other || 'No section'}
              on={other === preset.section}
              onPress={() => {
                setSection(other)
                change({ section: other })
              }}
            />
          ))}
        </View>
      ) : null}
      <Choice
        label="Mark"
        options={['', ...MARKS].map((mark) => ({ value: mark, label: mark || 'none' }))}
        value={preset.mark}
        onChange={(mark) => change({ mark })}
        testID="mark"
      />
      {desk.show.looks.length > 0 ? (
        <Choice
          label="Look"
          options={[
            { value: '', label: 'none' },
            ...desk.show.looks.map(({ id, name: called }) => ({ value: id, label: called })),
          ]}
          value={preset.look ?? ''}
          onChange={(look) => change({ look: look === '' ? null : look })}
          testID="preset-look"
        />
      ) : null}
      <Choice
        label="Pace"
        options={[{ value: OWN, label: "As the camera's" }, ...PACE_OPTIONS]}
        value={paceValue(preset.pace, OWN)}
        onChange={(value) => change({ pace: paceFor(value) })}
        testID="preset-pace"
      />
      <View style={styles.row}>
        {PARTS.filter(([part]) => part !== 'light' || preset.light).map(([part, label]) => (
          <Toggle
            key={part}
            label={label}
            value={preset.parts[part]}
            onChange={(on) => change({ parts: { ...preset.parts, [part]: on } })}
            testID={`part-${part}`}
          />
        ))}
      </View>
      {owner ? <MoveDrawn preset={preset} camera={owner} /> : null}
      <PresetKeeps preset={preset} />
      <View style={styles.row}>
        <Key
          label="Retake the picture"
          onPress={() => void told(() => retakePicture(preset.id))}
          testID="retake"
        />
        <Key label="Picture of your own" onPress={() => void upload()} testID="own-picture" />
      </View>
      <PresetCopies desk={desk} preset={preset} />
      <PresetHistory preset={preset} />
    </Sheet>
  )
}

const styles = StyleSheet.create({
  input: {
    minHeight: TOUCH + 4,
    paddingHorizontal: 12,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.heron,
    backgroundColor: TONES.ink,
    color: TONES.sand,
    fontFamily: FACES.regular,
    fontSize: 17,
  },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'flex-end', gap: 8 },
  set: { minWidth: 64 },
})
