/** The user's own board of buttons: large, with a mark, in an order of their own. */
import { useState } from 'react'
import { Pressable, StyleSheet, View } from 'react-native'
import type { BoardButton, Part } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import { orderParts } from '../api/client'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { useFocusRing } from '../input/useFocusRing'
import { RADIUS, TONES } from '../theme/tones'
import { add, change, dataOf, remove } from './edit'
import { pressButton } from './runActions'
import { useShow } from './useShow'

/** Whatever the board holds, to press. */
export function BoardButtons({
  desk,
  onPress,
}: {
  desk: DeskView
  onPress?: (button: Part<'button'>) => void
}) {
  return (
    <View style={styles.board} testID="board">
      {desk.show.buttons.map((button) => (
        <BoardKey
          key={button.id}
          desk={desk}
          button={button}
          onPress={() => (onPress ?? pressButton)(button)}
        />
      ))}
    </View>
  )
}

function aboutOf(desk: DeskView, { does }: BoardButton): string {
  const { show } = desk
  switch (does.t) {
    case 'cue':
      return show.cues.find(({ id }) => id === does.cue)?.name ?? 'a cue that is gone'
    case 'tour':
      return show.tours.find(({ id }) => id === does.tour)?.name ?? 'a tour that is gone'
    case 'look':
      return show.looks.find(({ id }) => id === does.look)?.name ?? 'a look that is gone'
    case 'replay':
      return show.moves.find(({ id }) => id === does.move)?.name ?? 'a move that is gone'
    case 'message':
      return desk.devices.find(({ id }) => id === does.device)?.name ?? 'a device that is gone'
  }
}

function BoardKey({ desk, button, onPress }: { desk: DeskView; button: Part<'button'>; onPress(): void }) {
  const { ring, handlers } = useFocusRing()
  const { runs } = useShow()
  const { does } = button
  const on = does.t === 'cue' && runs.some((run) => run.cue === does.cue && run.state === 'running')
  return (
    <Pressable
      {...handlers}
      accessibilityRole="button"
      onPress={onPress}
      style={[styles.button, on && styles.on, ring && styles.focused]}
      testID={`button-${button.label}`}
    >
      <Words size={26} weight="bold" tone="heron">
        {button.mark || ' '}
      </Words>
      <Words size={16} weight="bold" numberOfLines={2} style={styles.label}>
        {button.label}
      </Words>
      <Words size={12} tone="mist" numberOfLines={1}>
        {on ? '▶ running' : aboutOf(desk, button)}
      </Words>
    </Pressable>
  )
}

export function BoardTab({ desk }: { desk: DeskView }) {
  const [changing, setChanging] = useState(false)
  const [edited, setEdited] = useState<Part<'button'> | 'new' | null>(null)
  return (
    <View style={styles.tab}>
      <Words size={14} tone="mist">
        Buttons of your own. They are on the Desk too, under More, and keys or stick buttons can press the
        first six.
      </Words>
      <BoardButtons desk={desk} {...(changing ? { onPress: setEdited } : {})} />
      <View style={styles.row}>
        <Key label="New button" onPress={() => setEdited('new')} testID="new-button" />
        {desk.show.buttons.length > 0 ? (
          <Toggle label="A touch changes a button" value={changing} onChange={setChanging} />
        ) : null}
      </View>
      {edited ? (
        <ButtonSheet
          key={edited === 'new' ? 'new' : edited.id}
          desk={desk}
          button={edited === 'new' ? null : edited}
          onClose={() => setEdited(null)}
        />
      ) : null}
    </View>
  )
}

function firstOf(desk: DeskView, t: BoardButton['does']['t']): BoardButton['does'] {
  const { show, devices } = desk
  if (t === 'cue') return { t, cue: show.cues[0]?.id ?? '' }
  if (t === 'look') return { t, look: show.looks[0]?.id ?? '' }
  if (t === 'tour') return { t, tour: show.tours[0]?.id ?? '' }
  if (t === 'replay') return { t, move: show.moves[0]?.id ?? '' }
  return { t, device: devices[0]?.id ?? '', message: devices[0]?.messages[0]?.id ?? '' }
}

interface ButtonSheetProps {
  desk: DeskView
  button: Part<'button'> | null
  onClose(): void
}

function ButtonSheet({ desk, button, onClose }: ButtonSheetProps) {
  const [draft, setDraft] = useState<BoardButton>(() =>
    button ? dataOf<'button'>(button) : { label: '', mark: '', does: firstOf(desk, 'cue') },
  )
  const { does } = draft
  const { show, devices } = desk
  const at = show.buttons.findIndex(({ id }) => id === button?.id)
  const right = draft.label.trim() !== '' && Object.values(does).every((value) => value !== '')
  const keep = async () => {
    if (await (button ? change('button', button, draft) : add('button', draft))) onClose()
  }
  const move = (by: 1 | -1) => {
    const ids = show.buttons.map(({ id }) => id)
    const [one] = ids.splice(at, 1)
    ids.splice(at + by, 0, one!)
    void told(() => orderParts('button', ids))
  }
  const options = (all: readonly { id: string; name: string }[]) =>
    all.map(({ id, name }) => ({ value: id, label: name }))
  const device = devices.find(({ id }) => does.t === 'message' && id === does.device)
  const put = (next: BoardButton['does']) => setDraft({ ...draft, does: next })
  return (
    <Sheet
      title={button ? button.label : 'New button'}
      onClose={onClose}
      testID="button-sheet"
      foot={
        <>
          <Key
            label="Keep"
            tone="filled"
            disabled={!right}
            onPress={() => void keep()}
            testID="keep-button"
          />
          {button ? (
            <>
              <Key label="Earlier" disabled={at <= 0} onPress={() => move(-1)} />
              <Key label="Later" disabled={at >= show.buttons.length - 1} onPress={() => move(1)} />
              <Key label="Remove" onPress={() => void remove('button', button).then(onClose)} />
            </>
          ) : null}
        </>
      }
    >
      <View style={styles.row}>
        <Field
          label="Name"
          value={draft.label}
          maxLength={60}
          onChangeText={(label) => setDraft({ ...draft, label })}
          testID="button-label"
        />
        <Field
          label="Mark"
          value={draft.mark}
          maxLength={12}
          onChangeText={(mark) => setDraft({ ...draft, mark })}
        />
      </View>
      <Choice
        label="It starts"
        options={[
          { value: 'cue', label: 'A cue' },
          { value: 'tour', label: 'A tour' },
          { value: 'look', label: 'A look' },
          { value: 'replay', label: 'A recorded move' },
          { value: 'message', label: 'A message' },
        ]}
        value={does.t}
        onChange={(t) => put(firstOf(desk, t))}
      />
      {does.t === 'cue' ? (
        <Choice
          label="Cue"
          options={options(show.cues)}
          value={does.cue}
          onChange={(cue) => put({ ...does, cue })}
        />
      ) : null}
      {does.t === 'tour' ? (
        <Choice
          label="Tour"
          options={options(show.tours)}
          value={does.tour}
          onChange={(tour) => put({ ...does, tour })}
        />
      ) : null}
      {does.t === 'look' ? (
        <Choice
          label="Look"
          options={options(show.looks)}
          value={does.look}
          onChange={(look) => put({ ...does, look })}
        />
      ) : null}
      {does.t === 'replay' ? (
        <Choice
          label="Move"
          options={options(show.moves)}
          value={does.move}
          onChange={(moved) => put({ ...does, move: moved })}
        />
      ) : null}
      {does.t === 'message' ? (
        <>
          <Choice
            label="Device"
            options={options(devices)}
            value={does.device}
            onChange={(id) =>
              put({
                t: 'message',
                device: id,
                message: devices.find((d) => d.id === id)?.messages[0]?.id ?? '',
              })
            }
          />
          <Choice
            label="Message"
            options={options(device?.messages ?? [])}
            value={does.message}
            onChange={(message) => put({ ...does, message })}
          />
        </>
      ) : null}
    </Sheet>
  )
}

const styles = StyleSheet.create({
  tab: { gap: 12 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10, alignItems: 'center' },
  board: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
  button: {
    width: 150,
    minHeight: 112,
    flexGrow: 1,
    maxWidth: 220,
    padding: 10,
    gap: 2,
    alignItems: 'center',
    justifyContent: 'center',
    borderRadius: RADIUS.large,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.reed,
  },
  on: { backgroundColor: TONES.heronFilled, borderColor: TONES.heron },
  focused: { outlineColor: TONES.sand, outlineWidth: 2, outlineStyle: 'solid', outlineOffset: 2 },
  label: { textAlign: 'center' },
})
