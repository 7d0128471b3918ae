/** The sheet of one camera: everything about it, tried before it is saved. */
import { useEffect, useState } from 'react'
import { useForm } from 'react-hook-form'
import { StyleSheet, View } from 'react-native'
import { KINDS } from '../../core/cameras/kinds'
import { DEFAULT_HEAD, HEAD_PROFILES } from '../../core/heads/registry'
import type { CameraView, DeskView, Outcome } from '../../server/api'
import { addCamera, changeCamera, deleteCamera, restoreCamera, tryCamera } from '../api/client'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { useOwnProfiles } from '../live/useHead'
import { type Draft, linkDraft, make, pictureDraft } from './draft'
import { HeadCheckPart } from './HeadCheckPart'
import { HealthLines } from './HealthLines'
import { LearnPart } from './LearnPart'
import { LinkFields } from './LinkFields'
import { OutcomeBox } from './OutcomeBox'
import { PictureFields } from './PictureFields'
import { ReportSheet } from './ReportSheet'

/** Only of these something is told by which a head can be checked. */
const canBeChecked = ({ connection }: CameraView): boolean =>
  (connection.kind === 'rig' ? connection.head : connection).kind !== 'commands'

interface CameraSheetProps {
  desk: DeskView
  /** Null for a new camera. */
  view: CameraView | null
  draft: Draft
  onClose(): void
}

export function CameraSheet({ desk, view, draft: first, onClose }: CameraSheetProps) {
  const { watch, setValue } = useForm<Draft>({ defaultValues: first })
  const draft = watch()
  const [shown, setShown] = useState(false)
  const [report, setReport] = useState(false)
  const own = useOwnProfiles()
  const [working, setWorking] = useState<'try' | 'save' | null>(null)
  const [outcome, setOutcome] = useState<Outcome | null>(null)
  const made = make(draft)
  const problems = shown ? made.problems : {}
  const link = JSON.stringify([draft.rig, draft.link, draft.lens])
  // What was found out belongs to what was entered then.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the link is what it depends on
  useEffect(() => setOutcome(null), [link])
  const others = desk.cameras.filter((c) => c.id !== view?.id)

  const attempt = async (trustNew = false): Promise<Outcome | null> => {
    if (!made.connection) {
      setShown(true)
      return null
    }
    const { connection, secrets } = made
    const result = await told(() => tryCamera(connection, secrets, view?.id ?? null, trustNew))
    setOutcome(result)
    // Nobody has chosen another for a new camera, so its own word is taken.
    if (result?.head && !view && draft.headProfile === DEFAULT_HEAD) takeHead(result.head.id)
    return result
  }
  const takeHead = (id: string) => {
    setValue('headProfile', id)
    setValue('headConfirmed', true)
  }
  const tryIt = async (trustNew = false) => {
    setWorking('try')
    await attempt(trustNew)
    setWorking(null)
  }
  const save = async (although: boolean) => {
    setShown(true)
    const { settings, secrets } = made
    if (!settings) return
    setWorking('save')
    const result = although ? null : await attempt()
    if (although || result?.ok) {
      const head = result?.head ?? null
      const named = head && !view && settings.headProfile === DEFAULT_HEAD
      const whole = named ? { ...settings, headProfile: head.id, headConfirmed: true } : settings
      const saved = await told<unknown>(() =>
        view ? changeCamera(view.id, whole, secrets) : addCamera(whole, secrets),
      )
      if (saved) {
        note(view ? `Changed ${settings.name}.` : `Added ${settings.name}.`)
        for (const remark of result?.remarks ?? []) note(remark)
        onClose()
        return
      }
    }
    setWorking(null)
  }
  const remove = async () => {
    if (!view || !(await told(() => deleteCamera(view.id)))) return
    note(`Deleted ${view.name}. Its presets are kept.`, {
      actions: [{ label: 'Undo', act: () => void told(() => restoreCamera(view.id)) }],
    })
    onClose()
  }

  const failed = outcome !== null && !outcome.ok
  const firstProblem = shown ? Object.values(made.problems)[0] : null
  const foot = (
    <>
      <Key
        label={working === 'try' ? 'Trying…' : 'Try'}
        disabled={working !== null}
        onPress={() => void tryIt()}
        testID="try-camera"
      />
      <Key
        label={working === 'save' ? 'Trying…' : view ? 'Save' : 'Add'}
        tone="filled"
        disabled={working !== null}
        onPress={() => void save(false)}
        testID="save-camera"
      />
      {failed && outcome.problem?.code !== 'taken' ? (
        <Key
          label={view ? 'Save anyway' : 'Add anyway'}
          disabled={working !== null}
          onPress={() => void save(true)}
          testID="save-anyway"
        />
      ) : null}
      <View style={styles.space} />
      {view ? <Key label="Delete" onPress={() => void remove()} testID="delete-camera" /> : null}
    </>
  )
  return (
    <Sheet
      title={view ? `Camera ${view.number}, ${view.name}` : 'New camera'}
      onClose={onClose}
      foot={foot}
      testID="camera-sheet"
    >
      {view ? <HealthLines view={view} /> : null}
      {view?.enabled ? (
        <View style={styles.row}>
          <Key label="Camera report" onPress={() => setReport(true)} testID="open-report" />
        </View>
      ) : null}
      {view && report ? <ReportSheet view={view} onClose={() => setReport(false)} /> : null}
      <View style={styles.row}>
        <Field
          label="Number"
          value={draft.number}
          inputMode="numeric"
          onChangeText={(text) => setValue('number', text)}
          problem={problems.number}
          testID="camera-number"
        />
        <Field
          label="Name"
          value={draft.name}
          maxLength={40}
          onChangeText={(text) => setValue('name', text)}
          problem={problems.name}
          testID="camera-name"
          style={styles.name}
        />
      </View>
      <View style={styles.row}>
        <Toggle
          label="On in the desk"
          value={draft.enabled}
          onChange={(on) => setValue('enabled', on)}
          testID="camera-enabled"
        />
        <Toggle
          label="A rig: head and lens on different links"
          value={draft.rig}
          onChange={(rig) => setValue('rig', rig)}
          testID="camera-rig"
        />
      </View>
      <LinkFields
        title={draft.rig ? 'Head' : ''}
        id="link"
        link={draft.link}
        path={draft.rig ? 'connection.head' : 'connection'}
        problems={problems}
        keptPassword={view?.passwords.link ?? false}
        commandSets={desk.commandSets}
        onChange={(next) => setValue('link', next)}
      />
      {draft.rig ? (
        <LinkFields
          title="Lens"
          id="lens"
          link={draft.lens}
          path="connection.lens"
          problems={problems}
          keptPassword={view?.passwords.lens ?? false}
          commandSets={desk.commandSets}
          onChange={(next) => setValue('lens', next)}
        />
      ) : null}
      {outcome ? (
        <OutcomeBox
          outcome={outcome}
          pictureUrl={draft.picture.url}
          onTake={(connection) => {
            if (connection.kind === 'rig') return
            const port = KINDS[connection.kind].usualPort
            setValue('link', {
              ...linkDraft(connection),
              port: String('port' in connection ? connection.port : port),
            })
          }}
          onOpenly={draft.rig ? null : () => setValue('link', { ...draft.link, openly: 'true' })}
          head={{ id: draft.headProfile, confirmed: draft.headConfirmed }}
          onHead={takeHead}
          onTrust={() => void tryIt(true)}
          onPicture={(picture) =>
            setValue('picture', { ...pictureDraft(picture), password: draft.link.password })
          }
        />
      ) : null}
      <Choice
        label="Head profile"
        options={[...HEAD_PROFILES, ...own].map((p) => ({ value: p.id, label: p.name }))}
        value={draft.headProfile}
        onChange={(id) => {
          setValue('headProfile', id)
          setValue('headConfirmed', false)
        }}
        testID="head"
      />
      <Toggle
        label="This profile describes the head"
        value={draft.headConfirmed}
        onChange={(on) => setValue('headConfirmed', on)}
        testID="head-confirmed"
      />
      {draft.headConfirmed ? null : (
        <Words size={13} tone="mist">
          Until you confirm it, the ends of the profile limit nothing, and presets are recalled by the head's
          own counts.
        </Words>
      )}
      {view?.enabled && canBeChecked(view) ? <HeadCheckPart view={view} onMended={onClose} /> : null}
      {view?.enabled && canBeChecked(view) ? <LearnPart view={view} onUsed={onClose} /> : null}
      <PictureFields
        picture={draft.picture}
        problems={problems}
        keptPassword={view?.passwords.picture ?? false}
        others={others}
        onChange={(next) => setValue('picture', next)}
      />
      <View style={styles.row}>
        <Toggle
          label="Hangs upside down"
          value={draft.upsideDown}
          onChange={(on) => setValue('upsideDown', on)}
          testID="upside-down"
        />
        <Toggle
          label="Mirrored"
          value={draft.mirrored}
          onChange={(on) => setValue('mirrored', on)}
          testID="mirrored"
        />
      </View>
      <Field
        label="The camera's own page"
        value={draft.pageUrl}
        placeholder="http://192.168.1.31/"
        onChangeText={(text) => setValue('pageUrl', text)}
        problem={problems.pageUrl}
        testID="camera-page"
      />
      {firstProblem ? (
        <Words tone="clay" testID="first-problem">
          {firstProblem}
        </Words>
      ) : null}
    </Sheet>
  )
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
  name: { flexGrow: 3, minWidth: 180 },
  space: { flex: 1 },
})
