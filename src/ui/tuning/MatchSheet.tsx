/** Matches cameras by measurement: the same card is touched in each picture, and the desk turns the others to it. */
import { useEffect, useState } from 'react'
import { StyleSheet, useWindowDimensions, View } from 'react-native'
import type { CameraView, DeskView } from '../../server/api'
import { AsksFirst, match, undoLook } from '../api/client'
import { Choice } from '../basics/Choice'
import { Key } from '../basics/Key'
import { fault, note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { AskBar } from '../tally/AskBar'
import { ask } from '../tally/asked'
import { RADIUS, TONES } from '../theme/tones'
import { keepLook } from './LooksTab'
import { ScopeView } from './ScopeView'

type Point = { x: number; y: number }
type Matched = Awaited<ReturnType<typeof match>>

interface MatchSheetProps {
  desk: DeskView
  view: CameraView
  along: readonly CameraView[]
  /** `grey`: what is touched in its own picture is made grey. */
  kind: 'match' | 'grey'
  onClose(): void
}

const WHAT = [
  { value: 'card', label: 'A card, wall or shirt', touches: 1 },
  { value: 'chart', label: 'A 24-patch chart', touches: 4 },
] as const
const GREYS = [
  { value: 'as it is', label: 'As bright as it is', level: null },
  { value: 'grey', label: 'Grey card, 18 %', level: 0.18 },
  { value: 'white', label: 'White card', level: 0.7 },
] as const
const CORNERS = ['upper left', 'upper right', 'lower right', 'lower left']
const figure = (x: number | null) => (x === null ? '–' : x.toFixed(1))

export function MatchSheet({ desk, view, along, kind, onClose }: MatchSheetProps) {
  const { width } = useWindowDimensions()
  const matches = kind === 'match'
  const others = desk.cameras.filter((c) => c.enabled && c.id !== view.id)
  const [chosen, setChosen] = useState<readonly string[]>(() =>
    (along.length > 0 ? along : others.slice(0, 1)).map(({ id }) => id),
  )
  const [what, setWhat] = useState<'card' | 'chart'>('card')
  const [grey, setGrey] = useState<(typeof GREYS)[number]['value']>('as it is')
  const [touched, setTouched] = useState<Readonly<Record<string, readonly Point[]>>>({})
  const [busySince, setBusySince] = useState<number | null>(null)
  const [now, setNow] = useState(0)
  const [result, setResult] = useState<Matched | null>(null)
  useEffect(() => {
    if (busySince === null) return
    const timer = setInterval(() => setNow(Date.now()), 500)
    return () => clearInterval(timer)
  }, [busySince])
  const needs = WHAT.find(({ value }) => value === what)!.touches
  const shown = [view, ...(matches ? others.filter(({ id }) => chosen.includes(id)) : [])]
  const ready =
    shown.every(({ id }) => (touched[id]?.length ?? 0) === needs) && (!matches || shown.length > 1)
  const across = width > 760 ? 2 : 1
  const picture = Math.floor((Math.min(width, 960) - 48 - 12 * (across - 1)) / across)
  const touch = (id: string, x: number, y: number) => {
    setResult(null)
    setTouched((before) => {
      const points = before[id] ?? []
      return { ...before, [id]: [...(points.length >= needs ? [] : points), { x, y }] }
    })
  }
  const at = (id: string) => ({ camera: id, at: (touched[id] ?? []) as [Point] })
  const go = async (confirmed = false) => {
    setBusySince(Date.now())
    setNow(Date.now())
    try {
      setResult(
        await match({
          reference: matches ? at(view.id) : null,
          level: matches ? null : (GREYS.find(({ value }) => value === grey)?.level ?? null),
          others: matches ? shown.slice(1).map(({ id }) => at(id)) : [at(view.id)],
          confirmed,
        }),
      )
    } catch (error) {
      const { message } = error as Error
      if (error instanceof AsksFirst) ask({ text: message, act: () => void go(true) })
      else fault(message)
    }
    setBusySince(null)
  }
  const undo = async () => {
    if (result && (await told(() => undoLook(result.undo)))) {
      setResult(null)
      note('As it was before.')
    }
  }
  const seconds = busySince === null ? 0 : Math.max(0, Math.round((now - busySince) / 1000))
  return (
    <Sheet
      title={
        matches
          ? `Match others to ${view.number} ${view.name}`
          : `Make grey grey on ${view.number} ${view.name}`
      }
      onClose={onClose}
      maxWidth={960}
      testID="match-sheet"
      foot={
        result ? (
          <>
            <Key
              label="Keep as a look"
              tone="filled"
              onPress={() => {
                void keepLook(desk, shown, null)
                onClose()
              }}
              testID="match-keep"
            />
            <Key label="Undo" onPress={() => void undo()} testID="match-undo" />
            <Key label="Done" onPress={onClose} testID="match-done" />
          </>
        ) : (
          <Key
            label={
              busySince !== null ? `Measuring and turning, ${seconds} s` : matches ? 'Match' : 'Make it grey'
            }
            tone="filled"
            disabled={!ready || busySince !== null}
            onPress={() => void go()}
            testID="match-go"
          />
        )
      }
    >
      <AskBar />
      {matches ? (
        <>
          <Choice
            label="What all of them see"
            options={WHAT.map(({ value, label }) => ({ value, label }))}
            value={what}
            onChange={(next) => {
              setWhat(next)
              setTouched({})
            }}
            testID="match-what"
          />
          <View style={styles.many}>
            {others.map(({ id, number, name }) => (
              <Toggle
                key={id}
                label={`${number} ${name}`}
                value={chosen.includes(id)}
                onChange={(on) => setChosen(on ? [...chosen, id] : chosen.filter((one) => one !== id))}
                testID={`match-with-${number}`}
              />
            ))}
          </View>
        </>
      ) : (
        <Choice
          label="What is touched"
          options={GREYS.map(({ value, label }) => ({ value, label }))}
          value={grey}
          onChange={(next) => setGrey(next as typeof grey)}
          testID="grey-what"
        />
      )}
      <Words size={13} tone="mist">
        {needs === 1
          ? matches
            ? 'Touch the same plain thing in each picture. Nobody should walk through it meanwhile.'
            : 'Touch something in the picture that is to be grey or white.'
          : 'Touch the four corners of the chart in each picture, clockwise from the upper left.'}
      </Words>
      <View style={styles.pictures}>
        {shown.map((camera) => {
          const points = touched[camera.id] ?? []
          const found = result?.cameras.find((one) => one.camera === camera.id)
          const next =
            points.length < needs ? (needs === 1 ? 'not touched yet' : `touch ${CORNERS[points.length]}`) : ''
          return (
            <View key={camera.id} style={{ gap: 4 }}>
              <View>
                <ScopeView
                  camera={camera.id}
                  name={`${camera.number} ${camera.name}`}
                  width={picture}
                  scopeHeight={0}
                  scopes={[]}
                  mark={null}
                  onScope={() => {}}
                  onTouch={(x, y) => touch(camera.id, x, y)}
                />
                {points.map(({ x, y }) => (
                  <View
                    key={`${x} ${y}`}
                    style={[styles.point, { left: x * picture - 12, top: (y * picture * 9) / 16 - 12 }]}
                  />
                ))}
              </View>
              <View style={styles.under}>
                <Words size={14} weight="semiBold" style={styles.name} numberOfLines={1}>
                  {camera.number} {camera.name}
                  {matches && camera.id === view.id ? ', matched to' : ''}
                </Words>
                <Words size={13} tone={found?.why ? 'clay' : 'mist'} testID={`matched-${camera.number}`}>
                  {found
                    ? `${figure(found.before)} → ${figure(found.after)} in ${found.seconds} s${found.why ? `: ${found.why}` : ''}`
                    : next}
                </Words>
              </View>
            </View>
          )
        })}
      </View>
      {result ? (
        <Words size={13} tone="mist">
          The figures are CIEDE2000: below 2 hardly anybody sees a difference.
        </Words>
      ) : null}
    </Sheet>
  )
}

const styles = StyleSheet.create({
  many: { flexDirection: 'row', flexWrap: 'wrap', gap: 4 },
  pictures: { flexDirection: 'row', flexWrap: 'wrap', gap: 12 },
  point: {
    ...{ position: 'absolute', width: 24, height: 24, borderRadius: RADIUS.small, borderWidth: 2 },
    ...{ borderColor: TONES.sand, pointerEvents: 'none' },
  },
  under: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, justifyContent: 'space-between' },
  name: { flexShrink: 1 },
})
