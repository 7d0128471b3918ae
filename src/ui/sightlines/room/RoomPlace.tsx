/** The plan: where the cameras stand and what they see; a touch on it asks who can show that place. */
import { useMemo, useState } from 'react'
import { type LayoutChangeEvent, ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native'
import type { Vec3 } from '../../../core/optics/sphere'
import { laidBy, spread } from '../../../core/room/planned'
import type { RoomSolved } from '../../../core/room/room'
import { onPlan } from '../../../core/room/surface'
import type { Px } from '../../../core/survey/map'
import type { CameraView, DeskView } from '../../../server/api'
import { Choice } from '../../basics/Choice'
import { Key } from '../../basics/Key'
import { Words } from '../../basics/Words'
import { under } from '../../live/base'
import { useMay } from '../../people/me'
import { recall } from '../../presets/actions'
import { TONES, WIDE_FROM } from '../../theme/tones'
import { LOW_BELOW, type Size } from '../viewport'
import { PicturePart, type Setting } from './PicturePart'
import { PlanDrawing } from './PlanDrawing'
import { PlanCamera, PlanCross, PlanPoints, PlanPresets } from './PlanMarks'
import type { RoomSeen } from './roomSeen'
import { ShowingList } from './ShowingList'
import { SizePart, spotsOf } from './SizePart'
import { roomSays } from './says'
import { changeRoom, openRoom } from './useRoom'
import { useSights } from './useSights'

const PARTS = [
  { value: 'show', label: 'Who shows it' },
  { value: 'size', label: 'Size' },
  { value: 'picture', label: 'Picture' },
] as const
type Part = (typeof PARTS)[number]['value']

/** A placed preset is touched within so many px of the screen. */
const NEAR_PX = 26

interface RoomPlaceProps {
  desk: DeskView
  view: CameraView
  room: RoomSeen
}

/** What the drawing is of: the room, with the picture under it where two pins lay it; or the picture by itself. */
function drawingOf(room: RoomSeen, solved: RoomSolved | null, alone: boolean) {
  const { picture } = room
  if (picture && (alone || !solved)) return { is: 'picture' as const, picture }
  if (!solved) return null
  const laid = laidBy(room, solved, picture)
  const corners = laid
    ? [laid({ u: 0, v: 0 }), laid({ u: 1, v: 0 }), laid({ u: 0, v: 1 }), laid({ u: 1, v: 1 })]
    : []
  const places = [...solved.cameras, ...solved.points].map(({ at }) => ({ x: at[0], z: at[2] }))
  return { is: 'room' as const, solved, laid, corners, spread: spread([...places, ...corners]) }
}

export function RoomPlace({ desk, view, room }: RoomPlaceProps) {
  const { width, height } = useWindowDimensions()
  const [size, setSize] = useState<Size | null>(null)
  const [part, setPart] = useState<Part>('show')
  const [place, setPlace] = useState<{ at: Vec3; name: string } | null>(null)
  const [setting, setSetting] = useState<Setting>(null)
  const mayStore = useMay('store')
  const mayRecall = useMay('recall')
  const { solved } = room
  const sights = useSights(desk, solved)
  const event = desk.event.id
  const pinned = laidBy(room, solved, room.picture) !== null
  const alone = part === 'picture' && (!pinned || setting !== null)
  const drawing = useMemo(() => drawingOf(room, solved, alone), [room, solved, alone])
  const names = useMemo(
    () => new Map(room.points.map(({ id, name }, i) => [id, name ? `${i + 1} ${name}` : String(i + 1)])),
    [room],
  )
  const presets = desk.presets.filter(({ cameraId }) => cameraId === view.id)
  const shown = new Map(desk.presets.map((preset) => [preset.id, preset]))
  const placed = room.placed.flatMap(({ presetId, u, v }) => {
    const preset = shown.get(presetId)
    if (!preset || !drawing) return []
    const { is } = drawing
    const laid = is === 'room' ? drawing.laid?.({ u, v }) : null
    if (is === 'room' && !laid) return []
    const at =
      is === 'picture'
        ? { x: u * drawing.picture.width, y: v * drawing.picture.height }
        : drawing.spread.toPx(laid!.x, laid!.z)
    return [{ preset, at }]
  })
  const onPicture = (at: Px): { u: number; v: number } | null => {
    if (drawing?.is !== 'picture') return null
    const [u, v] = [at.x / drawing.picture.width, at.y / drawing.picture.height]
    return u >= 0 && u <= 1 && v >= 0 && v <= 1 ? { u, v } : null
  }
  const touched = (at: Px, px: number) => {
    const on = onPicture(at)
    if (setting?.is === 'pin' && on) {
      const spot = spotsOf(room, desk.cameras).find(({ value }) => value === setting.spot)?.spot
      if (!spot) return
      const same = (one: { spot: typeof spot }) => one.spot.kind === spot.kind && one.spot.id === spot.id
      setSetting(null)
      return void changeRoom(event, (kept) => ({
        ...kept,
        pins: [...kept.pins.filter((one) => !same(one)), { spot, ...on }].slice(-2),
      }))
    }
    if (setting?.is === 'preset' && on) {
      const { preset } = setting
      setSetting(null)
      return void changeRoom(event, (kept) => ({
        ...kept,
        placed: [...kept.placed.filter(({ presetId }) => presetId !== preset), { presetId: preset, ...on }],
      }))
    }
    const near = placed.find((one) => Math.hypot(one.at.x - at.x, one.at.y - at.y) < NEAR_PX * px)
    if (near && mayRecall) return void recall(near.preset.id)
    if (drawing?.is !== 'room') return
    const point = drawing.solved.points.find((one) => {
      const here = drawing.spread.toPx(one.at[0], one.at[2])
      return Math.hypot(here.x - at.x, here.y - at.y) < NEAR_PX * px
    })
    const { x, z } = drawing.spread.toRoom(at)
    setPart('show')
    setPlace(
      point
        ? { at: point.at, name: `Point ${names.get(point.pointId)}` }
        : { at: onPlan(drawing.solved, x, z), name: 'This place' },
    )
  }
  const onLayout = ({ nativeEvent: { layout } }: LayoutChangeEvent) =>
    setSize({ width: Math.floor(layout.width), height: Math.floor(layout.height) })
  const low = height < LOW_BELOW
  const beside = width >= WIDE_FROM || low
  const tools = (
    <View style={styles.tools}>
      {place && part === 'show' ? (
        <Key label="All points" onPress={() => setPlace(null)} style={styles.tool} testID="no-place" />
      ) : null}
      {mayStore ? (
        <Key label="Points" onPress={() => openRoom('points')} style={styles.tool} testID="to-points" />
      ) : null}
      <Key label="Sightlines" onPress={() => openRoom('none')} style={styles.tool} testID="close-plan" />
    </View>
  )
  const extent = drawing?.is === 'picture' ? drawing.picture : drawing ? drawing.spread : null
  return (
    <>
      <View style={beside ? styles.beside : styles.stacked}>
        <View style={styles.map} onLayout={onLayout}>
          {size && drawing && extent ? (
            <PlanDrawing extent={extent} size={size} label="The room from above" onPlace={touched}>
              {(px) => (
                <>
                  {drawing.is === 'picture' ? (
                    <image
                      href={under(`/api/room/picture?${drawing.picture.tag}`)}
                      width={drawing.picture.width}
                      height={drawing.picture.height}
                    />
                  ) : null}
                  {drawing.is === 'room' ? (
                    <>
                      {drawing.laid && room.picture ? (
                        <image
                          href={under(`/api/room/picture?${room.picture.tag}`)}
                          width={1}
                          height={1}
                          preserveAspectRatio="none"
                          opacity={0.55}
                          transform={matrixOf(drawing.corners.map(({ x, z }) => drawing.spread.toPx(x, z)))}
                        />
                      ) : null}
                      <PlanPoints drawing={drawing.spread} solved={drawing.solved} names={names} px={px} />
                      {sights.map(({ placed: one, sight }) =>
                        one.cameraId === view.id ? (
                          <PlanPresets
                            key={one.cameraId}
                            {...{
                              drawing: drawing.spread,
                              solved: drawing.solved,
                              placed: one,
                              sight,
                              presets,
                              px,
                            }}
                          />
                        ) : null,
                      )}
                      {sights.map(({ placed: one, sight }) => {
                        const camera = desk.cameras.find(({ id }) => id === one.cameraId)
                        return camera ? (
                          <PlanCamera
                            key={one.cameraId}
                            {...{ drawing: drawing.spread, solved: drawing.solved, placed: one, sight, px }}
                            view={camera}
                            chosen={camera.id === view.id}
                          />
                        ) : null
                      })}
                      {place ? (
                        <PlanCross at={drawing.spread.toPx(place.at[0], place.at[2])} px={px} />
                      ) : null}
                    </>
                  ) : null}
                  {placed.map(({ preset, at }) => (
                    <g key={preset.id} data-testid={`placed-${preset.number}`}>
                      <circle
                        cx={at.x}
                        cy={at.y}
                        r={13 * px}
                        fill={TONES.ink}
                        stroke={TONES.heron}
                        strokeWidth={2 * px}
                      />
                      <text
                        x={at.x}
                        y={at.y + 5 * px}
                        fontSize={13 * px}
                        fill={TONES.sand}
                        textAnchor="middle"
                      >
                        {preset.number}
                      </text>
                    </g>
                  ))}
                </>
              )}
            </PlanDrawing>
          ) : (
            <View style={styles.none}>
              <Words size={17} weight="bold">
                There is no plan yet
              </Words>
              <Words size={15} tone="mist" style={styles.about}>
                {roomSays(room, desk.cameras)}
              </Words>
            </View>
          )}
        </View>
        <View style={beside ? styles.side : styles.under} testID="room-panel">
          <ScrollView contentContainerStyle={styles.body}>
            <Choice
              label="The room"
              options={mayStore ? PARTS : PARTS.slice(0, 1)}
              value={part}
              onChange={(next) => {
                setPart(next)
                setSetting(null)
              }}
              testID="room-part"
            />
            {part === 'show' ? (
              solved ? (
                place ? (
                  <>
                    <Words size={15} weight="bold" testID="place-name">
                      {place.name} is shown by
                    </Words>
                    <ShowingList
                      {...{ desk, solved, sights, place: place.at, reference: view.id, pace: null }}
                    />
                  </>
                ) : (
                  <>
                    <Words size={14} tone="mist" testID="room-says">
                      {roomSays(room, desk.cameras)} Touch a place on the plan, or choose a point, to see who
                      can show it.
                    </Words>
                    {solved.points.map(({ pointId, at }) => (
                      <Key
                        key={pointId}
                        label={`Point ${names.get(pointId)}`}
                        onPress={() => setPlace({ at, name: `Point ${names.get(pointId)}` })}
                        testID={`ask-point-${names.get(pointId)}`}
                      />
                    ))}
                  </>
                )
              ) : (
                <Words size={14} tone="mist" testID="room-says">
                  {roomSays(room, desk.cameras)}
                </Words>
              )
            ) : part === 'size' ? (
              <SizePart event={event} cameras={desk.cameras} room={room} />
            ) : (
              <PicturePart {...{ desk, room, camera: view.id, setting, onSetting: setSetting }} />
            )}
            {low ? tools : null}
          </ScrollView>
        </View>
      </View>
      {low ? null : tools}
    </>
  )
}

/** Of a square of 1 whose corners are given: upper left, upper right, lower left. */
function matrixOf([o, x, y]: readonly Px[]): string {
  return `matrix(${x!.x - o!.x} ${x!.y - o!.y} ${y!.x - o!.x} ${y!.y - o!.y} ${o!.x} ${o!.y})`
}

const styles = StyleSheet.create({
  none: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: 24, gap: 12 },
  about: { maxWidth: 460, textAlign: 'center' },
  map: { flex: 1, minHeight: 0, marginHorizontal: 8, marginTop: 4 },
  beside: { flex: 1, minHeight: 0, flexDirection: 'row' },
  stacked: { flex: 1, minHeight: 0 },
  side: { width: 330, borderLeftWidth: 1, borderLeftColor: TONES.line, backgroundColor: TONES.marsh },
  under: { height: '48%', borderTopWidth: 1, borderTopColor: TONES.line, backgroundColor: TONES.marsh },
  body: { padding: 10, gap: 8 },
  tools: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 6, padding: 8 },
  tool: { paddingHorizontal: 12 },
})
