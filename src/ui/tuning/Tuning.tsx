/** Picture, the place: the live picture with its scopes, the settings of the camera in groups, looks and matching. */
import { useRef, useState } from 'react'
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native'
import { can } from '../../core/facts/capabilities'
import { MARKS, type Mark, type Scope } from '../../core/picture/scopes'
import type { CameraView, DeskView } from '../../server/api'
import { NoVenue } from '../api/client'
import { Advice } from '../basics/Advice'
import { Choice } from '../basics/Choice'
import { Key } from '../basics/Key'
import { Notes } from '../basics/Notes'
import { Words } from '../basics/Words'
import { CameraStrip } from '../desk/CameraRail'
import { selectCamera, toggleCamera, useSelection } from '../desk/selection'
import { useCamera } from '../desk/useCamera'
import { useDesk } from '../live/hooks'
import { Header } from '../places/Header'
import { PlacesBelow, PlacesBeside } from '../places/Places'
import { useAtDesk } from '../places/useAtDesk'
import FirstVenue from '../setup/FirstVenue'
import { AskBar } from '../tally/AskBar'
import { TONES, WIDE_FROM } from '../theme/tones'
import { keepLook, LooksTab } from './LooksTab'
import { MatchSheet } from './MatchSheet'
import { MenuBar, openMenu, useMenuOpen } from './MenuBar'
import { Recording } from './Recording'
import { ScopeView } from './ScopeView'
import { SettingList } from './SettingList'
import { setTuning, TABS, useTuning } from './tuningState'

const LOW_BELOW = 560
const SIDE = 420

export default function Tuning() {
  const { data, error } = useDesk()
  const { width, height } = useWindowDimensions()
  const wide = width >= WIDE_FROM
  const low = height < LOW_BELOW
  useAtDesk()
  const selection = useSelection()
  const chosen = data?.cameras.find((c) => c.id === selection.primary)
  const view = chosen ?? data?.cameras.find((c) => c.enabled) ?? data?.cameras[0]
  if (error instanceof NoVenue) return <FirstVenue />
  return (
    <View style={styles.page}>
      <Header event={data?.event.name ?? ''} venue={data?.venue.name ?? ''} wide={wide} slim={low} />
      <View style={styles.main} role="main">
        {low && !wide ? <PlacesBeside /> : null}
        {data && view ? (
          <TuningOf key={view.id} desk={data} view={view} also={selection.also} />
        ) : (
          <View style={styles.none}>
            {error ? (
              <Advice title="The picture cannot be set now" text={error.message} />
            ) : (
              <Words tone="mist">{data ? 'Connect a camera in Setup first.' : 'Opening the picture…'}</Words>
            )}
          </View>
        )}
      </View>
      {wide || low ? null : <PlacesBelow />}
    </View>
  )
}

const MARK_WORDS: Record<Mark, string> = { clips: 'Clips', falseColour: 'False colour', peaking: 'Peaking' }

function TuningOf({ desk, view, also }: { desk: DeskView; view: CameraView; also: readonly string[] }) {
  const { width, height } = useWindowDimensions()
  const { tab, scopes, mark, along: how } = useTuning()
  const camera = useCamera(view)
  const [adding, setAdding] = useState(false)
  const [matching, setMatching] = useState<'match' | 'grey' | null>(null)
  const canvas = useRef<HTMLCanvasElement | null>(null)
  const narrow = width < 360
  const hasMenu = can(camera.able, 'menu')
  const menuOpen = useMenuOpen(view.id)
  const along = desk.cameras.filter((c) => also.includes(c.id) && c.id !== view.id && c.enabled)
  const low = height < LOW_BELOW
  const wide = width >= WIDE_FROM
  const beside = wide || low
  const room = beside ? width - SIDE - 36 - (low && !wide ? 56 : 0) : Math.min(width - 24, 720)
  const second = wide ? along[0] : undefined
  const scopeHeight = low ? (height > 340 ? 64 : 0) : wide ? 170 : height > 900 ? 150 : height < 700 ? 64 : 92
  const most = low ? ((height - 32 - 48 - 70 - scopeHeight) * 16) / 9 : height * (wide ? 0.95 : 0.6)
  const each = Math.max(180, Math.min(second ? (room - 12) / 2 : room, most))
  const onScope = (index: number, scope: Scope) =>
    setTuning({ scopes: index === 0 ? [scope, scopes[1]] : [scopes[0], scope] })
  const rail = {
    cameras: desk.cameras,
    primary: view.id,
    also,
    adding,
    onAdding: setAdding,
    onPress: (id: string, add: boolean) => (add || adding ? toggleCamera(id, view.id) : selectCamera(id)),
    onAll: () => {},
  }
  const shown = wide || (room > 500 && !low) ? scopes : scopes.slice(0, 1)
  const marks = (
    <View style={styles.marks}>
      {MARKS.map((one) => (
        <Key
          key={one}
          label={MARK_WORDS[one]}
          on={one === mark}
          onPress={() => setTuning({ mark: one === mark ? null : one })}
          testID={`mark-${one}`}
        />
      ))}
      <Recording view={view} cameras={desk.cameras} />
      {hasMenu && !menuOpen ? (
        <Key label="Camera's menu" onPress={() => openMenu(view.id)} testID="menu-open" />
      ) : null}
    </View>
  )
  const foot = (
    <View style={styles.foot}>
      <Key
        label={narrow ? 'Match others' : 'Match others to it'}
        onPress={() => setMatching('match')}
        disabled={!camera.enabled || desk.cameras.length < 2}
        style={styles.footKey}
        testID="match"
      />
      <Key
        label={along.length > 0 ? `Keep a look of ${along.length + 1}` : 'Keep as a look'}
        onPress={() => void keepLook(desk, [view, ...along], canvas.current)}
        disabled={!camera.enabled}
        style={styles.footKey}
        testID="keep"
      />
    </View>
  )
  const sheet = matching ? (
    <MatchSheet {...{ desk, view, along }} kind={matching} onClose={() => setMatching(null)} />
  ) : null
  const pictures = (
    <View style={styles.pictures}>
      <View style={styles.pair}>
        {[view, ...(second ? [second] : [])].map((one) => (
          <ScopeView
            key={one.id}
            camera={one.id}
            name={`${one.number} ${one.name}`}
            width={Math.floor(each)}
            {...{ scopeHeight, mark, onScope }}
            {...(one === view ? { canvasRef: canvas } : {})}
            scopes={second ? scopes.slice(0, 1) : shown}
          />
        ))}
      </View>
      <MenuBar camera={view.id} />
      <AskBar />
      {beside ? marks : null}
    </View>
  )
  const settings = (
    <>
      <View style={styles.tabs}>
        {TABS.map((one) => (
          <Key
            key={one}
            label={one}
            on={one === tab}
            onPress={() => setTuning({ tab: one })}
            style={styles.tab}
            testID={`tab-${one}`}
          />
        ))}
      </View>
      {along.length > 0 && tab !== 'Looks' ? (
        <View style={styles.along}>
          <Words size={13} tone="mist" style={styles.alongWords}>
            With {along.map(({ number, name }) => `${number} ${name}`).join(', ')}
          </Words>
          <Choice
            label="How the others are turned"
            options={[
              { value: 'same', label: 'To the same' },
              { value: 'relative', label: 'By as much' },
            ]}
            value={how}
            onChange={(next) => setTuning({ along: next })}
            testID="along"
          />
        </View>
      ) : null}
      {tab === 'Looks' ? (
        <LooksTab {...{ desk, view, along, canvas }} />
      ) : (
        <SettingList {...{ camera, along, tab }} />
      )}
      {tab === 'White' ? (
        <Key
          label="Touch something grey…"
          onPress={() => setMatching('grey')}
          disabled={!camera.enabled}
          testID="grey"
        />
      ) : null}
      {beside ? null : marks}
    </>
  )
  if (beside)
    return (
      <View style={styles.columns}>
        <View style={styles.left}>
          <CameraStrip {...rail} compact />
          <ScrollView contentContainerStyle={styles.leftInner}>{pictures}</ScrollView>
        </View>
        {sheet}
        <View style={[styles.side, { width: Math.min(SIDE, width / 2) }]}>
          <ScrollView contentContainerStyle={styles.body}>{settings}</ScrollView>
          {foot}
          <View style={styles.notes}>
            <Notes />
          </View>
        </View>
      </View>
    )
  return (
    <View style={styles.column}>
      <CameraStrip {...rail} compact />
      <View style={styles.top}>{pictures}</View>
      <ScrollView style={styles.scroll} contentContainerStyle={styles.body}>
        {settings}
      </ScrollView>
      {foot}
      {sheet}
      <View style={styles.notes}>
        <Notes />
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: TONES.ink },
  main: { flex: 1, flexDirection: 'row', minHeight: 0 },
  none: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: 24 },
  columns: { flex: 1, flexDirection: 'row', minHeight: 0 },
  left: { flex: 1, minWidth: 0 },
  leftInner: { alignItems: 'center', padding: 12 },
  side: { borderLeftWidth: 1, borderLeftColor: TONES.line },
  column: { flex: 1, minWidth: 0 },
  top: { alignItems: 'center', paddingTop: 4 },
  pictures: { gap: 4 },
  pair: { flexDirection: 'row', gap: 12 },
  marks: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, paddingVertical: 4 },
  foot: { flexDirection: 'row', gap: 8, padding: 8, borderTopWidth: 1, borderTopColor: TONES.line },
  footKey: { flex: 1 },
  scroll: { flex: 1 },
  body: { padding: 12, gap: 8 },
  tabs: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  tab: { flexGrow: 1, paddingHorizontal: 6 },
  along: { gap: 6 },
  alongWords: { paddingHorizontal: 2 },
  notes: { position: 'absolute', left: 12, right: 12, bottom: 70, pointerEvents: 'box-none' },
})
