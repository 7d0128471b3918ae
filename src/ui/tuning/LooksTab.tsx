/** The looks of the event: kept, compared with what is now, recalled whole or by group, also at other cameras. */

import { type RefObject, useEffect, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import type { Part } from '../../core/cues/show'
import type { SettingGroup } from '../../core/picture/settings'
import type { CameraView, DeskView } from '../../server/api'
import { compareLook } from '../api/client'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { fault, note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { add, change, dataOf, remove } from '../cues/edit'
import { under } from '../live/base'
import { RADIUS, TONES } from '../theme/tones'
import { FormerSettings } from './FormerSettings'
import { LookHistory } from './LookHistory'
import { lookNow, recallLook, smallPicture } from './lookActions'
import { OwnFile } from './OwnFile'

type Look = Part<'look'>
type Planned = Awaited<ReturnType<typeof compareLook>>

interface LooksTabProps {
  desk: DeskView
  view: CameraView
  along: readonly CameraView[]
  canvas: RefObject<HTMLCanvasElement | null>
}

/** Keeps what the cameras are set to now as a new look. */
export async function keepLook(
  desk: DeskView,
  cameras: readonly CameraView[],
  canvas: HTMLCanvasElement | null,
): Promise<void> {
  const kept = lookNow(cameras)
  if (!kept) {
    fault('The camera has not told its settings, so there is nothing to keep yet.')
    return
  }
  const name = `Look ${desk.show.looks.length + 1}`
  const id = await add('look', { name, picture: await smallPicture(canvas), fadeSeconds: 0, cameras: kept })
  if (id) note(`Kept as “${name}”. Name it in Looks.`)
}

export function LooksTab({ desk, view, along, canvas }: LooksTabProps) {
  const { looks } = desk.show
  const [open, setOpen] = useState<string | null>(null)
  const shown = looks.find(({ id }) => id === open) ?? null
  const named = (id: string) => {
    const camera = desk.cameras.find((c) => c.id === id)
    return camera ? `${camera.number} ${camera.name}` : 'a camera that is gone'
  }
  return (
    <View style={styles.tab}>
      {looks.length === 0 ? (
        <Words tone="mist" style={styles.none}>
          A look keeps how the picture of a camera is set. Set it as it should be, then keep it.
        </Words>
      ) : null}
      {looks.map((look) => (
        <View key={look.id} style={styles.card} testID={`look-${look.name}`}>
          {look.picture ? (
            <img src={look.picture} alt="" width={80} height={45} style={{ borderRadius: 4 }} />
          ) : (
            <View style={styles.blank} />
          )}
          <View style={styles.words}>
            <Words size={16} weight="semiBold" numberOfLines={1}>
              {look.name}
            </Words>
            <Words size={13} tone="mist" numberOfLines={1}>
              {look.cameras.map(({ camera }) => named(camera)).join(', ')}
              {look.fadeSeconds > 0 ? `, fades ${look.fadeSeconds} s` : ''}
            </Words>
          </View>
          <Key
            label="Recall"
            tone="filled"
            onPress={() => void recallLook(look.id)}
            testID={`recall-look-${look.name}`}
          />
          <Key label="More" onPress={() => setOpen(look.id)} testID={`open-look-${look.name}`} />
        </View>
      ))}
      {looks.length > 0 ? (
        <Key
          label="Export as CSV"
          onPress={() => window.open(under('/api/looks/csv'), '_blank')}
          style={styles.csv}
          testID="looks-csv"
        />
      ) : null}
      <FormerSettings />
      {shown ? (
        <LookSheet
          key={shown.id}
          {...{ desk, view, along, canvas }}
          look={shown}
          onClose={() => setOpen(null)}
        />
      ) : null}
    </View>
  )
}

const PARTS: readonly { value: string; label: string; groups: SettingGroup[] | null }[] = [
  { value: 'all', label: 'All of it', groups: null },
  { value: 'exposure', label: 'Exposure', groups: ['exposure'] },
  { value: 'white', label: 'White', groups: ['whiteBalance'] },
  { value: 'rest', label: 'Detail and image', groups: ['detail', 'image'] },
]
const FADES = [0, 1, 2, 4, 8] as const

function LookSheet({
  desk,
  view,
  along,
  canvas,
  look,
  onClose,
}: LooksTabProps & { look: Look; onClose(): void }) {
  const [name, setName] = useState(look.name)
  const [part, setPart] = useState('all')
  const [where, setWhere] = useState('own')
  const [planned, setPlanned] = useState<Planned | null>(null)
  const groups = PARTS.find(({ value }) => value === part)?.groups ?? null
  const here = [view, ...along].map(({ id }) => id)
  const cameras =
    where === 'own' ? null : where === 'here' ? here : desk.cameras.filter((c) => c.enabled).map((c) => c.id)
  const asked = JSON.stringify({ cameras, groups })
  useEffect(() => {
    let gone = false
    void told(() => compareLook(look.id, JSON.parse(asked))).then((found) => {
      if (!gone) setPlanned(found)
    })
    return () => {
      gone = true
    }
  }, [look.id, asked])
  const rename = () => {
    if (name.trim() !== '' && name !== look.name)
      void change('look', look, { ...dataOf<'look'>(look), name: name.trim() })
  }
  const storeOver = async () => {
    const kept = lookNow(desk.cameras.filter((c) => look.cameras.some(({ camera }) => camera === c.id)))
    if (!kept) fault('Its cameras have not told their settings, so nothing was kept.')
    else if (
      await change('look', look, {
        ...dataOf<'look'>(look),
        cameras: kept,
        picture: await smallPicture(canvas.current),
      })
    )
      note(`Kept over “${look.name}”.`)
  }
  /** Is the camera set as the whole look has it? */
  const standsAt = (id: string) => {
    const plan = part === 'all' ? planned?.find(({ camera }) => camera === id) : undefined
    return plan ? plan.changes.length === 0 : null
  }
  const count = planned?.reduce((sum, one) => sum + one.changes.length, 0) ?? 0
  return (
    <Sheet
      title={look.name}
      onClose={onClose}
      testID="look-sheet"
      foot={
        <>
          <Key
            label={count === 0 && planned ? 'Nothing would change' : 'Recall'}
            tone="filled"
            disabled={count === 0}
            onPress={() => {
              void recallLook(look.id, { cameras, groups })
              onClose()
            }}
            testID="look-recall"
          />
          <Key label="Keep over it" onPress={() => void storeOver()} testID="look-over" />
          <Key
            label="Remove"
            onPress={() => {
              void remove('look', look)
              onClose()
            }}
            testID="look-remove"
          />
        </>
      }
    >
      <Field
        label="Name"
        value={name}
        onChangeText={setName}
        onBlur={rename}
        onSubmitEditing={rename}
        testID="look-name"
      />
      <Choice
        label="How much of it"
        options={PARTS.map(({ value, label }) => ({ value, label }))}
        value={part}
        onChange={(next) => setPart(String(next))}
        testID="look-part"
      />
      <Choice
        label="Where"
        options={[
          { value: 'own', label: 'Its own cameras' },
          { value: 'here', label: along.length > 0 ? 'The chosen cameras' : `${view.number} ${view.name}` },
          { value: 'all', label: 'All cameras' },
        ]}
        value={where}
        onChange={(next) => setWhere(String(next))}
        testID="look-where"
      />
      <Choice
        label="Fade"
        options={FADES.map((s) => ({ value: s as number, label: s === 0 ? 'At once' : `${s} s` }))}
        value={look.fadeSeconds}
        onChange={(fadeSeconds) => void change('look', look, { ...dataOf<'look'>(look), fadeSeconds })}
        testID="look-fade"
      />
      {desk.cameras
        .filter((c) => look.cameras.some(({ camera }) => camera === c.id))
        .map((camera) => (
          <OwnFile
            key={camera.id}
            {...{ look, camera }}
            looks={desk.show.looks}
            stands={standsAt(camera.id)}
          />
        ))}
      <LookHistory look={look} />
      <Words size={15} weight="semiBold">
        What would change
      </Words>
      {planned === null ? <Words tone="mist">Comparing…</Words> : null}
      {planned?.length === 0 ? <Words tone="mist">None of these cameras answers now.</Words> : null}
      {planned?.map(({ camera, name: of, changes, missing }) => (
        <View key={camera} style={styles.plan} testID="look-plan">
          <Words size={14} weight="semiBold">
            {of}
          </Words>
          {changes.length === 0 ? (
            <Words size={13} tone="mist">
              stands as the look has it
            </Words>
          ) : null}
          {changes.map((one) => (
            <Words key={one.key} size={13} tone="mist">
              {one.label}: {one.fromText} → {one.toText}
              {one.jumps && look.fadeSeconds > 0 ? ', jumps' : ''}
            </Words>
          ))}
          {missing.length > 0 ? (
            <Words size={13} tone="clay">
              It has no {missing.join(', ').toLowerCase()}.
            </Words>
          ) : null}
        </View>
      ))}
    </Sheet>
  )
}

const styles = StyleSheet.create({
  tab: { gap: 8 },
  none: { padding: 12 },
  card: {
    ...{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8, padding: 8 },
    ...{ backgroundColor: TONES.marsh, borderColor: TONES.line, borderWidth: 1, borderRadius: RADIUS.middle },
  },
  blank: { width: 80, height: 45, borderRadius: 4, backgroundColor: '#060A0B' },
  words: { flex: 1, minWidth: 90 },
  csv: { alignSelf: 'flex-start' },
  plan: { gap: 2 },
})
