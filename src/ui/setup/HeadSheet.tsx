/** A head profile of the venue's own, edited: fields in groups with their units, zoom curve and speeds drawn. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import * as v from 'valibot'
import { HeadProfile, PROFILE_FORMAT } from '../../core/heads/profile'
import { putHeadProfile } from '../api/client'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { Part } from '../desk/Part'
import { Drawn } from './Drawn'

type Axis = 'pan' | 'tilt'

/** Single numbers, each with its label and its place. */
const AXIS_FIELDS = [
  ['minDeg', 'Lower end, °'],
  ['maxDeg', 'Upper end, °'],
  ['unitsPerDeg', 'Steps in a degree'],
  ['zeroUnits', 'Steps at 0°'],
  ['accelDegPerSec2', 'Acceleration, °/s²'],
] as const
const TOP_FIELDS = [
  ['delaySeconds', 'From order to motion, s'],
  ['gapMs', 'Least gap between packets, ms'],
  ['memories', 'Memories'],
  ['zoomTravelPerSec', 'Speed of a zoom move, units/s'],
  ['zoomAccelPerSec2', 'Acceleration of the zoom, units/s²'],
  ['focusAccelPerSec2', 'Acceleration of the focus, units/s²'],
] as const

const numbers = (list: readonly number[]) => list.join(' ')
const parsed = (text: string) =>
  text
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map(Number)
const curveText = (curve: HeadProfile['lens']['zoomCurve']) =>
  curve.map(([at, mm]) => `${at}=${mm}`).join(' ')
const parsedCurve = (text: string) =>
  text
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map((pair) => pair.split('=').map(Number) as [number, number])

export function HeadSheet({ profile, onClose }: { profile: HeadProfile; onClose(): void }) {
  const [draft, setDraft] = useState(profile)
  const [texts, setTexts] = useState<Record<string, string>>({})
  const [working, setWorking] = useState(false)
  const checked = v.safeParse(HeadProfile, draft)
  const problem = checked.success ? null : checked.issues[0]
  const place = problem ? (v.getDotPath(problem) ?? '') : ''

  const textOf = (key: string, value: string) => texts[key] ?? value
  const change = (key: string, text: string, next: (draft: HeadProfile) => HeadProfile) => {
    setTexts({ ...texts, [key]: text })
    setDraft(next(draft))
  }
  const field = (
    key: string,
    label: string,
    value: string,
    next: (d: HeadProfile, text: string) => HeadProfile,
  ) => (
    <Field
      key={key}
      label={label}
      value={textOf(key, value)}
      onChangeText={(text) => change(key, text, (d) => next(d, text))}
      problem={place !== '' && place.startsWith(key) ? problem?.message : undefined}
      style={styles.field}
      testID={`head-${key}`}
    />
  )
  const axis = (name: Axis, title: string) => (
    <Part title={title}>
      <View style={styles.row}>
        {AXIS_FIELDS.map(([key, label]) =>
          field(`${name}.${key}`, label, String(draft[name][key]), (d, text) => ({
            ...d,
            [name]: { ...d[name], [key]: Number(text) },
          })),
        )}
      </View>
      <View style={styles.row}>
        <Toggle
          label={name === 'pan' ? 'Positions grow to the left' : 'Positions grow downwards'}
          value={draft[name].reversed}
          onChange={(reversed) => setDraft({ ...draft, [name]: { ...draft[name], reversed } })}
          testID={`head-${name}-reversed`}
        />
        <Toggle
          label="Drives go the other way"
          value={draft[name].drivesReversed}
          onChange={(drivesReversed) => setDraft({ ...draft, [name]: { ...draft[name], drivesReversed } })}
        />
      </View>
      <Choice<'4' | '5'>
        label="Digits of a position"
        options={[
          { value: '4', label: 'Four' },
          { value: '5', label: 'Five' },
        ]}
        value={draft[name].nibbles === 5 ? '5' : '4'}
        onChange={(n) => setDraft({ ...draft, [name]: { ...draft[name], nibbles: n === '5' ? 5 : 4 } })}
      />
      {field(
        `${name}.speedsDegPerSec`,
        'Speed of each step, °/s',
        numbers(draft[name].speedsDegPerSec),
        (d, text) => ({
          ...d,
          [name]: { ...d[name], speedsDegPerSec: parsed(text) },
        }),
      )}
      <Drawn
        points={draft[name].speedsDegPerSec.map((speed, i) => [i + 1, speed])}
        across="step"
        up="°/s"
        testID={`drawn-${name}`}
      />
    </Part>
  )
  const save = async () => {
    setWorking(true)
    const text = JSON.stringify({ format: PROFILE_FORMAT, version: 1, ...draft })
    const done = await told(() => putHeadProfile(text))
    setWorking(false)
    if (!done) return
    note(`Changed ${draft.name}.`)
    onClose()
  }
  const foot = (
    <>
      <View style={styles.space} />
      <Key
        label="Save"
        tone="filled"
        disabled={working || problem !== null}
        onPress={() => void save()}
        testID="save-head"
      />
    </>
  )
  return (
    <Sheet title={profile.name} onClose={onClose} foot={foot} maxWidth={760} testID="head-sheet">
      {field('name', 'Name', draft.name, (d, name) => ({ ...d, name }))}
      {axis('pan', 'Pan')}
      {axis('tilt', 'Tilt')}
      <Part title="Lens">
        {field(
          'lens.sensorWidthMm',
          'Width of the sensor, mm',
          String(draft.lens.sensorWidthMm),
          (d, text) => ({
            ...d,
            lens: { ...d.lens, sensorWidthMm: Number(text) },
          }),
        )}
        {field(
          'lens.zoomCurve',
          'Zoom position = focal length, mm',
          curveText(draft.lens.zoomCurve),
          (d, text) => ({
            ...d,
            lens: { ...d.lens, zoomCurve: parsedCurve(text) },
          }),
        )}
        <Drawn points={draft.lens.zoomCurve} across="zoom" up="mm" testID="drawn-zoom" />
      </Part>
      <Part title="Timing, memories">
        <View style={styles.row}>
          {TOP_FIELDS.map(([key, label]) =>
            field(key, label, String(draft[key]), (d, text) => ({ ...d, [key]: Number(text) })),
          )}
        </View>
        <Choice<'0' | '1'>
          label="Memories are numbered from"
          options={[
            { value: '0', label: '0' },
            { value: '1', label: '1' },
          ]}
          value={draft.memoryOffset === 1 ? '1' : '0'}
          onChange={(n) => setDraft({ ...draft, memoryOffset: n === '1' ? 1 : 0 })}
        />
        <Toggle
          label="Each packet starts its ramp anew"
          value={draft.restartsRamp}
          onChange={(restartsRamp) => setDraft({ ...draft, restartsRamp })}
        />
      </Part>
      {problem ? (
        <Words tone="clay" testID="head-problem">
          {place ? `${place}: ${problem.message}` : problem.message}
        </Words>
      ) : null}
    </Sheet>
  )
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
  field: { minWidth: 150, flexGrow: 1 },
  space: { flex: 1 },
})
