/** Cues, the place: the running order with its check, tours and moves, the board, the clock, other devices. */

import { useEffect, useState } from 'react'
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native'
import { listed, nextOf } from '../../core/cues/order'
import type { DeskView } from '../../server/api'
import { NoVenue } from '../api/client'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { Notes } from '../basics/Notes'
import { Words } from '../basics/Words'
import { devices } from '../input/devices'
import { useKeys } from '../input/useKeys'
import { under } from '../live/base'
import { useDesk } from '../live/hooks'
import { Header } from '../places/Header'
import { PlacesBelow, PlacesBeside } from '../places/Places'
import { useAtDesk } from '../places/useAtDesk'
import FirstVenue from '../setup/FirstVenue'
import { TONES, WIDE_FROM } from '../theme/tones'
import { BoardTab } from './BoardTab'
import { ClockTab } from './ClockTab'
import { CuePage } from './CuePage'
import { CUE_TABS, setCueState, useCueState } from './cueState'
import { DevicesTab } from './DevicesTab'
import { add, undoEdit, useUndo } from './edit'
import { Findings, useFindings } from './Findings'
import { GoBar } from './GoBar'
import { InterruptedBar } from './InterruptedBar'
import { OrderList } from './OrderList'
import { runKeys } from './runActions'
import { ToursTab } from './ToursTab'
import { useShow } from './useShow'

const LOW_BELOW = 560
const LIST = 300

export default function Cues() {
  const { data, error } = useDesk()
  const { width, height } = useWindowDimensions()
  const wide = width >= WIDE_FROM
  const low = height < LOW_BELOW
  const { held } = useShow()
  const { tab } = useCueState()
  const press = runKeys(data, held)
  useKeys({ press, digit: () => {}, enter: () => false })
  devices.press = press
  useAtDesk()
  useEffect(
    () => () => {
      devices.press = {}
    },
    [],
  )
  if (error instanceof NoVenue) return <FirstVenue />
  return (
    <View style={styles.page}>
      <Header event={data?.event.name ?? ''} venue={data?.venue.name ?? ''} wide={wide} slim={low} />
      <View style={styles.main} role="main">
        {low && !wide ? <PlacesBeside /> : null}
        <View style={styles.column}>
          {data ? <InterruptedBar desk={data} /> : null}
          <ScrollView
            horizontal
            style={styles.tabs}
            contentContainerStyle={[styles.tabRow, low && styles.lowTabs]}
            showsHorizontalScrollIndicator={false}
          >
            {CUE_TABS.map((name) => (
              <Key
                key={name}
                label={name}
                on={name === tab}
                onPress={() => setCueState({ tab: name })}
                testID={`tab-${name}`}
              />
            ))}
            <UndoKey />
          </ScrollView>
          {!data ? (
            <View style={styles.body}>
              {error ? (
                <Advice title="The cues cannot be opened" text={error.message} />
              ) : (
                <Words tone="mist">Opening the cues…</Words>
              )}
            </View>
          ) : tab === 'Order' ? (
            <OrderTab desk={data} wide={wide} narrow={width < 600} />
          ) : (
            <ScrollView style={styles.scroll} contentContainerStyle={styles.body}>
              {tab === 'Tours and moves' ? <ToursTab desk={data} /> : null}
              {tab === 'Board' ? <BoardTab desk={data} /> : null}
              {tab === 'Clock' ? <ClockTab desk={data} /> : null}
              {tab === 'Devices' ? <DevicesTab desk={data} /> : null}
            </ScrollView>
          )}
          <View style={styles.notes}>
            <Notes />
          </View>
          {data ? (
            <GoBar
              desk={data}
              narrow={width < 760}
              low={low}
              onOpen={(cue) => setCueState({ tab: 'Order', cue })}
            />
          ) : null}
        </View>
      </View>
      {wide || low ? null : <PlacesBelow />}
    </View>
  )
}

function UndoKey() {
  const what = useUndo()
  return what ? (
    <Key
      label="Undo"
      accessibilityLabel={`Undo: ${what}`}
      tone="quiet"
      onPress={() => void undoEdit()}
      testID="undo"
    />
  ) : null
}

function OrderTab({ desk, wide, narrow }: { desk: DeskView; wide: boolean; narrow: boolean }) {
  const { cue: chosen } = useCueState()
  const show = useShow()
  const { findings, checked, again } = useFindings(desk)
  const [moving, setMoving] = useState(false)
  const { cues } = desk.show
  const opened = cues.find(({ id }) => id === chosen) ?? null
  const runs = show.runs.find(({ state }) => state === 'running')
  const running = cues.find(({ id }) => id === runs?.cue)
  // Beside the list there is always one to see.
  const cue = opened ?? (wide ? (running ?? nextOf(cues, show.position) ?? listed(cues)[0] ?? null) : null)
  const open = (id: string | null) => setCueState({ cue: id })
  const addCue = async () => {
    const at = cue?.listed ? listed(cues).find((one) => one.order > cue.order) : undefined
    const order = cue && at ? (cue.order + at.order) / 2 : undefined
    const id = await add(
      'cue',
      {
        name: `Cue ${cues.length + 1}`,
        notes: '',
        listed: true,
        expected: null,
        times: 1,
        onTally: null,
        steps: [],
      },
      order,
    )
    if (id) open(id)
  }
  const list = (
    <View style={styles.list}>
      <View style={styles.row}>
        <Key label="New cue" onPress={() => void addCue()} testID="new-cue" />
        <Key
          label={moving ? 'Done' : 'Rearrange'}
          on={moving}
          onPress={() => setMoving(!moving)}
          testID="order-cues"
        />
      </View>
      {cues.length === 0 ? (
        <Words tone="mist">
          No cues yet. A cue moves several cameras, and tells other devices, from one press.
        </Words>
      ) : (
        <Words size={14} tone={findings.length > 0 ? 'clay' : 'mist'} testID="check">
          {!checked
            ? 'Checking…'
            : findings.length > 0
              ? `△ The check has ${findings.length} ${findings.length === 1 ? 'finding' : 'findings'}.`
              : '✓ The check finds nothing wrong.'}
        </Words>
      )}
      <OrderList desk={desk} findings={findings} open={cue?.id ?? null} moving={moving} onOpen={open} />
      <View style={styles.row}>
        <PrintKeys />
      </View>
    </View>
  )
  const page = cue ? (
    <CuePage
      key={cue.id}
      desk={desk}
      cue={cue}
      findings={findings}
      checked={checked}
      again={again}
      narrow={narrow}
      onOpen={open}
    />
  ) : null
  if (wide)
    return (
      <View style={styles.beside}>
        <ScrollView style={styles.left} contentContainerStyle={styles.body}>
          {list}
        </ScrollView>
        <ScrollView style={styles.scroll} contentContainerStyle={styles.body}>
          {page ?? <Findings desk={desk} findings={findings} all onOpen={open} after={again} />}
        </ScrollView>
      </View>
    )
  return (
    <ScrollView style={styles.scroll} contentContainerStyle={styles.body}>
      {page ? (
        <>
          <Key label="All cues" onPress={() => open(null)} style={styles.back} testID="all-cues" />
          {page}
        </>
      ) : (
        <>
          {list}
          {findings.length > 0 ? (
            <Findings desk={desk} findings={findings} all onOpen={open} after={again} />
          ) : null}
        </>
      )}
    </ScrollView>
  )
}

function PrintKeys() {
  const openPage = (path: string) => window.open(under(`/api/show/${path}`), '_blank', 'noopener')
  return (
    <>
      <Key label="Print" tone="quiet" onPress={() => openPage('order.html')} testID="print-order" />
      <Key label="CSV" tone="quiet" onPress={() => openPage('order.csv')} />
    </>
  )
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: TONES.ink, minHeight: 0 },
  main: { flex: 1, flexDirection: 'row', minHeight: 0 },
  column: { flex: 1, minWidth: 0, minHeight: 0 },
  tabs: { flexGrow: 0, flexShrink: 0 },
  tabRow: { gap: 8, padding: 8 },
  lowTabs: { paddingVertical: 3 },
  beside: { flex: 1, flexDirection: 'row', minHeight: 0 },
  left: { width: LIST, flexGrow: 0, borderRightWidth: 1, borderRightColor: TONES.line },
  scroll: { flex: 1, minWidth: 0 },
  body: { padding: 10, paddingBottom: 24, gap: 10 },
  list: { gap: 8 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  back: { alignSelf: 'flex-start' },
  notes: { position: 'relative' },
})
