/** A helper's desk: large buttons for what one helper may touch, perhaps one pad, and nothing else. */
import { Link } from 'expo-router'
import { useEffect, useState } from 'react'
import { type LayoutChangeEvent, ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native'
import type { CueView, HelperDesk } from '../../core/cues/show'
import { SERVER } from '../../core/facts/facts'
import type { CameraView, DeskView, PresetView } from '../../server/api'
import { goCue } from '../api/client'
import { Advice } from '../basics/Advice'
import { Key } from '../basics/Key'
import { Notes } from '../basics/Notes'
import { fault } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { loadPersons } from '../input/controlsStore'
import { useConnected, useDesk, useFact } from '../live/hooks'
import { live } from '../live/live'
import { useAwake } from '../live/useAwake'
import { AskBar } from '../tally/AskBar'
import { TONES } from '../theme/tones'
import { HelperPad } from './HelperPad'
import { HelperTile } from './HelperTile'
import { LockBar } from './LockBar'

/** Least width of a button, px: where there is little room, and where there is much. */
const LEAST: Record<HelperDesk['size'], readonly [number, number]> = { large: [165, 260], middle: [108, 160] }
const MUCH_FROM = 620
const GAP = 10
/** From here on the pad stands beside the buttons. */
const BESIDE_FROM = 700

export function HelperPage({ id, preview }: { id: string; preview: boolean }) {
  const { data, error } = useDesk()
  const connected = useConnected()
  useAwake()
  useEffect(() => {
    live().onNotice = (_camera, text) => fault(text)
    void loadPersons()
  }, [])
  const desk = data?.show.desks.find((one) => one.id === id)
  return (
    <View style={styles.page}>
      <LockBar title={desk?.name ?? ''} preview={preview} />
      {connected === false ? (
        <Advice
          title="No connection to the desk"
          text="Nothing can be moved from here now. This page comes back by itself."
        />
      ) : null}
      <AskBar />
      {desk && data ? <Filled data={data} desk={desk} /> : null}
      {!desk ? (
        <View style={styles.middle}>
          <Words tone="mist">
            {data
              ? 'This helper’s desk was removed. Ask whoever invited you for a new link.'
              : (error?.message ?? 'Opening…')}
          </Words>
          {preview ? (
            <Link href="/setup">
              <Words tone="heron">Back to Setup</Words>
            </Link>
          ) : null}
        </View>
      ) : null}
      <View style={styles.notes}>
        <Notes />
      </View>
    </View>
  )
}

function Filled({ data, desk }: { data: DeskView; desk: HelperDesk }) {
  const { width, height } = useWindowDimensions()
  const presets = desk.presets.flatMap((id) => data.presets.find((preset) => preset.id === id) ?? [])
  const cues = desk.cues.flatMap((id) => data.show.cues.find((cue) => cue.id === id) ?? [])
  const pad = data.cameras.find(({ id, enabled }) => id === desk.pad && enabled)
  const beside = width >= BESIDE_FROM || width > height
  return (
    <View style={[styles.main, beside && styles.across]} role="main">
      <Buttons {...{ data, presets, cues, size: desk.size }} />
      {pad ? <HelperPad view={pad} beside={beside} /> : null}
    </View>
  )
}

interface ButtonsProps {
  data: DeskView
  presets: readonly PresetView[]
  cues: readonly CueView[]
  size: HelperDesk['size']
}

function Buttons({ data, presets, cues, size }: ButtonsProps) {
  const [room, setRoom] = useState(0)
  const inner = room - 2 * GAP
  const least = LEAST[size][room < MUCH_FROM ? 0 : 1]
  const columns = Math.max(1, Math.floor((inner + GAP) / (least + GAP)))
  const width = Math.floor((inner - GAP * (columns - 1)) / columns)
  const cameraOf = (id: string): CameraView | undefined => data.cameras.find((camera) => camera.id === id)
  return (
    <ScrollView
      style={styles.scroll}
      contentContainerStyle={styles.buttons}
      onLayout={({ nativeEvent }: LayoutChangeEvent) => setRoom(nativeEvent.layout.width)}
    >
      {presets.length + cues.length === 0 ? (
        <Words tone="mist">Nothing is on this desk yet. Whoever invited you can put presets on it.</Words>
      ) : null}
      {room > 0
        ? presets.map((preset) => {
            const camera = cameraOf(preset.cameraId)
            return camera ? <HelperTile key={preset.id} {...{ preset, camera, width, size }} /> : null
          })
        : null}
      {room > 0 ? cues.map((cue) => <CueButton key={cue.id} cue={cue} width={width} />) : null}
    </ScrollView>
  )
}

function CueButton({ cue, width }: { cue: CueView; width: number }) {
  const show = useFact('show', SERVER)
  const runs = show?.runs.some((run) => run.cue === cue.id && run.state === 'running') ?? false
  return (
    <Key
      label={runs ? `${cue.name}, running` : cue.name}
      on={runs}
      onPress={() => void told(() => goCue(cue.id))}
      style={[styles.cue, { width }]}
      testID={`helper-cue-${cue.name}`}
    />
  )
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: TONES.ink, minHeight: 0 },
  middle: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 12, padding: 20 },
  main: { flex: 1, minHeight: 0 },
  across: { flexDirection: 'row' },
  scroll: { flex: 1, minWidth: 0 },
  buttons: { flexDirection: 'row', flexWrap: 'wrap', gap: GAP, padding: GAP },
  cue: { minHeight: 72 },
  notes: { position: 'relative' },
})
