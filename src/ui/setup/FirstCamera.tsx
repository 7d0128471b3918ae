/** From an empty venue to the first camera that moves, in three steps: find it, check it, drive it. */

import { useEffect, useState } from 'react'
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native'
import { feelFor } from '../../core/controls/controls'
import type { CameraView, DeskView } from '../../server/api'
import { addDemo } from '../api/client'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { Notes } from '../basics/Notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { ContourPad } from '../controls/ContourPad'
import { healthWords } from '../desk/healthWords'
import { useCamera, usePose } from '../desk/useCamera'
import { useControls } from '../input/controlsStore'
import { sticks } from '../input/sticks'
import { useFact } from '../live/hooks'
import { LivePicture } from '../picture/LivePicture'
import { Header } from '../places/Header'
import { PlacesBelow } from '../places/Places'
import { RADIUS, TONES, WIDE_FROM } from '../theme/tones'
import { CameraSheet } from './CameraSheet'
import { type Draft, draftOf, emptyDraft } from './draft'
import { FindSheet } from './FindSheet'

const PAD = 200
/** Turned by more than this, a hand has moved it. */
const TURNED_DEG = 0.4
/** From this width on the steps stand side by side. */
const ACROSS_FROM = 700
const PICTURE_WIDTH = 280
/** What page and card take at their sides, px. */
const SIDES = { page: 28, gap: 12, card: 30 }

function Step({
  number,
  title,
  done,
  beside,
  children,
}: {
  number: number
  title: string
  done: boolean
  /** It stands beside the others. */
  beside: boolean
  children: React.ReactNode
}) {
  return (
    <View style={[styles.step, beside && styles.beside, done && styles.done]} testID={`step-${number}`}>
      <View style={styles.head}>
        <View style={styles.number}>
          <Words size={16} weight="bold" tone="heron">
            {done ? '✓' : String(number)}
          </Words>
        </View>
        <Words size={18} weight="bold">
          {title}
        </Words>
      </View>
      {children}
    </View>
  )
}

function Check({ view, width, onEdit }: { view: CameraView; width: number; onEdit(): void }) {
  const health = useFact('health', view.id)
  return (
    <>
      <Words size={15} weight="semiBold" testID="first-health">
        {`${view.name}: ${healthWords(health, view.enabled)}`}
      </Words>
      <LivePicture camera={view.id} width={width} height={Math.round((width * 9) / 16)} perSec={10} />
      {health?.advice ? <Advice title="It is not ready yet" text={health.advice} /> : null}
      <Key label="Change its settings" onPress={onEdit} />
    </>
  )
}

function Drive({
  view,
  moved,
  onMoved,
  onOpen,
}: {
  view: CameraView
  moved: boolean
  onMoved(): void
  onOpen(): void
}) {
  const camera = useCamera(view)
  const pose = usePose(view.id)
  const feel = feelFor(useControls(), view.id)
  /** Where it stood before a hand was on it. */
  const [from, setFrom] = useState<{ panDeg: number; tiltDeg: number } | null>(null)
  const at =
    pose && pose.panDeg !== null && pose.tiltDeg !== null
      ? { panDeg: pose.panDeg, tiltDeg: pose.tiltDeg }
      : null
  const turned = at && from ? Math.hypot(at.panDeg - from.panDeg, at.tiltDeg - from.tiltDeg) : 0
  useEffect(() => {
    sticks.select([view.id])
  }, [view.id])
  useEffect(() => {
    if (at) setFrom((known) => known ?? at)
  }, [at])
  useEffect(() => {
    if (turned > TURNED_DEG) onMoved()
  }, [turned, onMoved])
  return (
    <>
      <Words size={15} tone="mist">
        {moved
          ? 'It moves, and stops when you let go. All else is on the Desk.'
          : 'Push the pad gently. The camera follows, and stops when you let go.'}
      </Words>
      <View style={styles.pad}>
        <ContourPad
          size={PAD}
          hfovDeg={pose?.hfovDeg ?? null}
          camera={camera}
          feel={feel}
          enabled={camera.enabled}
        />
      </View>
      <Key label="Open the Desk" tone={moved ? 'filled' : 'plain'} onPress={onOpen} testID="open-desk" />
    </>
  )
}

/** @param onDone the operator goes on to the Desk */
export default function FirstCamera({ desk, onDone }: { desk: DeskView; onDone(): void }) {
  const { width } = useWindowDimensions()
  const wide = width >= WIDE_FROM
  const beside = width >= ACROSS_FROM
  const card = beside ? (width - SIDES.page - 2 * SIDES.gap) / 3 : width - SIDES.page
  const picture = Math.round(Math.min(PICTURE_WIDTH, card - SIDES.card))
  const [finding, setFinding] = useState(false)
  const [sheet, setSheet] = useState<{ view: CameraView | null; draft: Draft } | null>(null)
  const [moved, setMoved] = useState(false)
  const view = desk.cameras[0] ?? null
  const health = useFact('health', view?.id ?? '')
  const ready = health !== null && /ready|slow|unheard/.test(health.state)
  const [seenMoving] = useState(() => () => setMoved(true))
  return (
    <View style={styles.page}>
      <Header event={desk.event.name} venue={desk.venue.name} wide={wide} />
      <ScrollView contentContainerStyle={styles.body}>
        <Words size={22} weight="bold">
          Your first camera
        </Words>
        <View style={beside ? styles.across : styles.down}>
          <Step beside={beside} number={1} title="Find it" done={view !== null}>
            <Words size={15} tone="mist">
              {view
                ? `${view.name} is in the list.`
                : 'Switch the camera on and connect it to this network, or to a serial port of this computer.'}
            </Words>
            {view ? null : (
              <>
                <Key
                  label="Find cameras"
                  tone="filled"
                  onPress={() => setFinding(true)}
                  testID="find-cameras"
                />
                <Key
                  label="Enter its address"
                  onPress={() => setSheet({ view: null, draft: emptyDraft(1) })}
                  testID="add-camera"
                />
                <Key
                  label="No camera at hand: add the demo"
                  onPress={() => void told(addDemo)}
                  testID="add-demo"
                />
              </>
            )}
          </Step>
          <Step beside={beside} number={2} title="Check it" done={ready}>
            {view ? (
              <Check view={view} width={picture} onEdit={() => setSheet({ view, draft: draftOf(view) })} />
            ) : (
              <Words size={15} tone="mist">
                Its picture and connection will appear here.
              </Words>
            )}
          </Step>
          <Step beside={beside} number={3} title="Drive it" done={moved}>
            {view && ready ? (
              <Drive view={view} moved={moved} onMoved={seenMoving} onOpen={onDone} />
            ) : (
              <Words size={15} tone="mist">
                As soon as it answers, you can drive it from here.
              </Words>
            )}
          </Step>
        </View>
      </ScrollView>
      <View style={styles.notes}>
        <Notes />
      </View>
      {wide ? null : <PlacesBelow />}
      {finding ? (
        <FindSheet
          onClose={() => setFinding(false)}
          onChoose={(connection, title) => {
            setFinding(false)
            setSheet({ view: null, draft: emptyDraft(1, connection, title) })
          }}
        />
      ) : null}
      {sheet ? (
        <CameraSheet desk={desk} view={sheet.view} draft={sheet.draft} onClose={() => setSheet(null)} />
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: TONES.ink, minHeight: 0 },
  body: { padding: 14, gap: 12, paddingBottom: 40 },
  across: { flexDirection: 'row', gap: 12, alignItems: 'flex-start' },
  down: { gap: 12 },
  step: {
    gap: 10,
    padding: 14,
    borderRadius: RADIUS.large,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.marsh,
  },
  beside: { flexGrow: 1, flexBasis: 0 },
  done: { borderColor: TONES.heron },
  head: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  number: {
    width: 32,
    height: 32,
    borderRadius: 16,
    borderWidth: 1,
    borderColor: TONES.heron,
    alignItems: 'center',
    justifyContent: 'center',
  },
  pad: { alignItems: 'center' },
  notes: { position: 'relative' },
})
