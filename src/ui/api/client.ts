/** The server's API, with its types. */

import { type ClientResponse, hc } from 'hono/client'
import type { Bump } from '../../core/bump/bump'
import type { CameraSettings, Connection, Secrets } from '../../core/cameras/connection'
import type { Controls } from '../../core/controls/controls'
import type { Finding } from '../../core/cues/check'
import { type PartData, type PartKind, SHOW_PARTS } from '../../core/cues/show'
import type { AxisMend } from '../../core/heads/check'
import { CHANGE_HEADER, PAGE_HEADER } from '../../core/live/headers'
import type { Device, DeviceMessage, DeviceState } from '../../core/messages/device'
import type { Guard } from '../../core/orders/guardSettings'
import type { SettingGroup } from '../../core/picture/settings'
import type { Pace, Parts } from '../../core/presets/pace'
import type { OscSettings, RemoteRight } from '../../core/remote/settings'
import type { RoomKept } from '../../core/room/room'
import type { SeatGrid } from '../../core/survey/seatGrid'
import type { TallySettings, TallyState } from '../../core/tally/sources'
import type { SwitcherAction } from '../../core/tally/switcher'
import type { Api, Before, DeskView, ImportMode, SearchOrder } from '../../server/api'
import { under } from '../live/base'
import { live } from '../live/live'
import { signInAgain } from '../live/signedOut'

/** Read at each request: the page's key changes with its connection. */
const headers = () => ({ [CHANGE_HEADER]: '1', [PAGE_HEADER]: live().pageKey })
export const client = hc<Api>(under('/api'), { headers })

/** A fault from the server or the network, in words for the operator. */
export class Refused extends Error {}

/** It would be seen on air, and waits for somebody to confirm it. */
export class AsksFirst extends Refused {}

/** There is no venue yet, or none is open. */
export class NoVenue extends Refused {}

const UNREACHABLE =
  'The server does not answer. See that the computer which runs it is on, and on this network.'

/** What a route answers when all is well, as its definition has it. */
type Body<R> = R extends ClientResponse<infer T, infer S, infer _> ? (S extends 200 ? T : never) : never

interface Answer {
  ok: boolean
  status: number
  json(): Promise<unknown>
}

async function bodyOf(request: Promise<Answer>): Promise<unknown> {
  let answer: Answer
  let body: unknown
  try {
    answer = await request
    body = await answer.json()
  } catch {
    throw new Refused(UNREACHABLE)
  }
  if (answer.status === 401) signInAgain()
  if (!answer.ok) {
    const { error, ask } = body as { error?: string; ask?: boolean }
    throw new (ask ? AsksFirst : Refused)(error ?? 'The server refused this.')
  }
  return body
}

export const read = <R extends ClientResponse<unknown>>(request: Promise<R>): Promise<Body<R>> =>
  bodyOf(request) as Promise<Body<R>>

/** A file goes as it is: hono's client sends JSON alone. The route says what comes back. */
const send = <Route extends (...args: never[]) => Promise<unknown>>(
  path: string,
  method: 'POST' | 'PUT',
  body: Blob | string,
  type?: string,
): Promise<Body<Awaited<ReturnType<Route>>>> =>
  bodyOf(
    fetch(under(`/api${path}`), {
      method,
      body,
      headers: { ...headers(), ...(type ? { 'content-type': type } : {}) },
    }),
  ) as Promise<Body<Awaited<ReturnType<Route>>>>

export async function readDesk(): Promise<DeskView> {
  const answer = await fetch(under('/api/desk')).catch(() => null)
  if (answer?.status === 404) throw new NoVenue('No venue is open.')
  return (await bodyOf(answer ? Promise.resolve(answer) : Promise.reject(new Error()))) as DeskView
}

export interface StoreWish {
  /** Where it is free; null for the next free one. */
  number?: number | null
  /** With exposure and white balance. */
  light: boolean
  /** Into this memory of the camera's own too. */
  memory?: number | null
}
export const storePreset = (cameraId: string, wish: StoreWish) =>
  read(client.presets.$post({ json: { cameraId, ...wish } }))

export const storeOver = (id: string, light: boolean) =>
  read(client.presets[':id'].shot.$put({ param: { id }, json: { light } }))

export const keepLight = (id: string, keep: boolean) =>
  read(client.presets[':id'].light.$put({ param: { id }, json: { keep } }))

export const keepInMemory = (id: string, memory: number | null) =>
  read(client.presets[':id'].memory.$put({ param: { id }, json: { memory } }))

export const stopRound = (cameraId: string) =>
  read(client.cameras[':id'].round.$delete({ param: { id: cameraId } }))

export const pauseRound = (cameraId: string, on: boolean) =>
  read(client.cameras[':id'].round.pause.$post({ param: { id: cameraId }, json: { on } }))

/** What a camera has measured of its own head; null where there is nothing new. */
export const readLearnt = (cameraId: string) =>
  read(client.cameras[':id'].learnt.$get({ param: { id: cameraId } }))

export const applyLearnt = (cameraId: string) =>
  read(client.cameras[':id'].learnt.use.$post({ param: { id: cameraId } }))

export const dropLearnt = (cameraId: string) =>
  read(client.cameras[':id'].learnt.$delete({ param: { id: cameraId } }))

/** How a camera's presets travel, and where they are kept. */
export interface Habits {
  pace?: Pace | null
  holdPicture?: boolean
  alsoInMemory?: boolean
  leash?: boolean
}
export const setHabits = (cameraId: string, habits: Habits) =>
  read(client.cameras[':id'].habits.$patch({ param: { id: cameraId }, json: habits }))

export const backToVersion = (id: string, version: number) =>
  read(client.presets[':id'].version.$put({ param: { id }, json: { version } }))

export interface PresetChange {
  name?: string
  section?: string
  mark?: string
  pace?: Pace | null
  parts?: Parts
  pinned?: boolean
  look?: string | null
}
export const changePreset = (id: string, change: PresetChange) =>
  read(client.presets[':id'].$patch({ param: { id }, json: change }))

export const readVersions = (id: string) => read(client.presets[':id'].versions.$get({ param: { id } }))

export const orderPresets = (ids: string[], board: 'own' | 'pinned') =>
  read(client.presets.order.$post({ json: { ids, board } }))

export const copyPresets = (ids: string[], eventId: string, cameraId: string | null) =>
  read(client.presets.copy.$post({ json: { ids, eventId, cameraId } }))

export const retakePicture = (id: string) => read(client.presets[':id'].retake.$post({ param: { id } }))

type PutPicture = (typeof client.presets)[':id']['picture']['$put']
export const putPicture = (id: string, file: Blob) => send<PutPicture>(`/presets/${id}/picture`, 'PUT', file)

export const addEvent = (name: string) => read(client.events.$post({ json: { name } }))

export const changeEvent = (id: string, change: { name?: string; words?: string[]; guard?: Guard }) =>
  read(client.events[':id'].$patch({ param: { id }, json: change }))

export const openEvent = (id: string) => read(client.events[':id'].open.$post({ param: { id } }))

export const deleteEvent = (id: string) => read(client.events[':id'].$delete({ param: { id } }))

export const deletePreset = (id: string) => read(client.presets[':id'].$delete({ param: { id } }))

export const restorePreset = (id: string) => read(client.presets[':id'].restore.$post({ param: { id } }))

export const pictureUrl = (id: string) => under(`/api/pictures/${id}`)

export const tryCamera = (
  connection: Connection,
  secrets: Secrets,
  cameraId: string | null,
  trustNew = false,
) => read(client.cameras.try.$post({ json: { connection, secrets, cameraId, trustNew } }))

export const addCamera = (settings: CameraSettings, secrets: Secrets) =>
  read(client.cameras.$post({ json: { settings, secrets } }))

export const changeCamera = (id: string, settings: CameraSettings, secrets: Secrets) =>
  read(client.cameras[':id'].$put({ param: { id }, json: { settings, secrets } }))

export const deleteCamera = (id: string) => read(client.cameras[':id'].$delete({ param: { id } }))

export const restoreCamera = (id: string) => read(client.cameras[':id'].restore.$post({ param: { id } }))

export const orderCameras = (ids: string[]) => read(client.cameras.order.$post({ json: { ids } }))

export const numberByAddress = () => read(client.cameras['number-by-address'].$post())

export const powerAll = (on: boolean) => read(client.cameras.power.$post({ json: { on } }))

export const readWays = () => read(client.find.ways.$get())

export const startSearch = (order: SearchOrder) => read(client.find.$post({ json: order }))

export const readSearch = (id: string) => read(client.find[':id'].$get({ param: { id } }))

export const cancelSearch = (id: string) => read(client.find[':id'].$delete({ param: { id } }))

export const addVenue = (name: string) => read(client.venues.$post({ json: { name } }))

export const renameVenue = (id: string, name: string) =>
  read(client.venues[':id'].$patch({ param: { id }, json: { name } }))

export const openVenue = (id: string) => read(client.venues[':id'].open.$post({ param: { id } }))

export const deleteVenue = (id: string) => read(client.venues[':id'].$delete({ param: { id } }))

export const lookAtVenueFile = (file: Blob) =>
  send<typeof client.venues.imports.zip.$post>('/venues/imports/zip', 'POST', file, 'application/zip')

export const lookAtCsv = (text: string) =>
  send<typeof client.venues.imports.csv.$post>('/venues/imports/csv', 'POST', text, 'text/csv')
export type Looked = Awaited<ReturnType<typeof lookAtCsv>>

export const readBackups = () => read(client.venues.backups.$get())
export const makeBackup = () => read(client.venues.backups.$post())
export const lookAtBackup = (file: string) => read(client.venues.backups.look.$post({ json: { file } }))

export const applyImport = (id: string, mode: ImportMode) =>
  read(client.venues.imports[':id'].$post({ param: { id }, json: { mode } }))

export const putCommandSet = (text: string) =>
  send<(typeof client)['command-sets']['$post']>('/command-sets', 'POST', text, 'application/json')

export const checkHead = (id: string) => read(client.cameras[':id'].check.$post({ param: { id } }))

export const mendHead = (id: string, mends: AxisMend[], confirmed: boolean) =>
  read(client.cameras[':id']['mend-head'].$post({ param: { id }, json: { mends, confirmed } }))

export const readReport = (id: string) => read(client.cameras[':id'].report.$get({ param: { id } }))

export const putHeadProfile = (text: string) =>
  send<(typeof client)['head-profiles']['$post']>('/head-profiles', 'POST', text, 'application/json')

export const deleteHeadProfile = (id: string) =>
  read(client['head-profiles'][':id'].$delete({ param: { id } }))

export const deleteCommandSet = (id: string) => read(client['command-sets'][':id'].$delete({ param: { id } }))

export const readPersons = () => read(client.persons.$get())

export const addPerson = (name: string) => read(client.persons.$post({ json: { name } }))

export const renamePerson = (id: string, name: string) =>
  read(client.persons[':id'].$put({ param: { id }, json: { name } }))

export const putControls = (id: string, controls: Controls) =>
  read(client.persons[':id'].$put({ param: { id }, json: { controls } }))

export const deletePerson = (id: string) => read(client.persons[':id'].$delete({ param: { id } }))

export const setLimit = (id: string, edge: 'left' | 'right' | 'up' | 'down' | 'none') =>
  read(client.cameras[':id'].limits.$post({ param: { id }, json: { edge } }))

/** @param text CSV or JSON */
export const takePresetList = (text: string) =>
  send<typeof client.presets.list.$post>('/presets/list', 'POST', text)

export const hasDemo = () => read(client.demo.$get())

export const addDemo = () => read(client.demo.$post())

export const removeDemo = () => read(client.demo.$delete())

export const readTally = () => read(client.tally.$get())

export const setTally = (settings: TallySettings) => read(client.tally.settings.$put({ json: settings }))

/** @param state null: nothing is said by hand any more */
export const sayTally = (number: number, state: TallyState | null, alone: boolean) =>
  read(
    client.tally[':number'].$post({
      param: { number: String(number) },
      json: { state, alone, byHand: true },
    }),
  )

/** @param camera its number; null where the switcher needs none */
export const switchTo = (action: SwitcherAction, camera: number | null) =>
  read(client.tally.switcher[':action'].$post({ param: { action }, json: { camera } }))

export const readMove = (id: string) => read(client.cameras[':id'].move.$get({ param: { id } }))

/** Where the type of a route says too little, or it is made for several kinds of things. */
export const json = <T>(
  path: string,
  method: 'GET' | 'POST' | 'PUT' | 'DELETE',
  body?: unknown,
): Promise<T> =>
  bodyOf(
    fetch(under(`/api${path}`), {
      method,
      headers: { ...headers(), ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    }),
  ) as Promise<T>

/** @param version the one that it replaces; null: whatever is there */
export const putPart = <K extends PartKind>(
  kind: K,
  id: string,
  data: PartData<K>,
  version: number | null,
  order?: number,
) => json<{ version: number }>(`/${SHOW_PARTS[kind].path}/${id}`, 'PUT', { data, version, order })

export const deletePart = (kind: PartKind, id: string) => json(`/${SHOW_PARTS[kind].path}/${id}`, 'DELETE')

export const partsBefore = (kind: PartKind, id: string) =>
  json<Before[]>(`/${SHOW_PARTS[kind].path}/${id}/before`, 'GET')

export const orderParts = (kind: PartKind, ids: string[]) =>
  json(`/${SHOW_PARTS[kind].path}/order`, 'POST', { ids })

type LookWish = { cameras?: string[] | null; groups?: SettingGroup[] | null; seconds?: number | null }

export const postLook = (id: string, wish: LookWish & { confirmed: boolean }) =>
  read(client.looks[':id'].recall.$post({ param: { id }, json: wish }))

export const match = (order: Parameters<typeof client.match.$post>[0]['json']) =>
  read(client.match.$post({ json: order }))

export const formerSettings = () => read(client.looks.former.$get())
export const undoLook = (id: string) => read(client.looks.undo[':id'].$post({ param: { id } }))

export const compareLook = (id: string, wish: LookWish) =>
  read(client.looks[':id'].compare.$post({ param: { id }, json: wish }))

/** @param astray presets that were seen not to show what was stored */
export const readCheck = (astray: readonly string[]) =>
  json<Finding[]>(`/check?astray=${astray.join(',')}`, 'GET')

export const goNext = () => read(client.show.go.$post())

export const goCue = (id: string) => read(client.cues[':id'].go.$post({ param: { id } }))

export const stopCue = (id: string) => read(client.cues[':id'].stop.$post({ param: { id } }))

export const chooseCue = (to: { by: 1 | -1 } | { cue: string }) => read(client.show.next.$post({ json: to }))

export const holdShow = (on: boolean) => read(client.show.hold.$post({ json: { on } }))

export const showSeen = () => read(client.show.seen.$post())

export const stopAll = () => read(client['stop-all'].$post())

export const startTour = (id: string) => read(client.tours[':id'].go.$post({ param: { id } }))

export const tourGoesOn = (id: string) => read(client.tours[':id']['go-on'].$post({ param: { id } }))

export const stopTour = (id: string) => read(client.tours[':id'].stop.$post({ param: { id } }))

export const playMove = (id: string, how: { percent: number; backwards: boolean; times: number }) =>
  read(client.moves[':id'].play.$post({ param: { id }, json: how }))

export const stopMove = (id: string) => read(client.moves[':id'].stop.$post({ param: { id } }))

export const startRecording = (camera: string) =>
  read(client.cameras[':id'].recording.$post({ param: { id: camera } }))

export const keepRecording = (camera: string, name: string) =>
  read(client.cameras[':id'].recording.$put({ param: { id: camera }, json: { name } }))

export const cancelRecording = (camera: string) =>
  read(client.cameras[':id'].recording.$delete({ param: { id: camera } }))

/** @param secret null: the one that is kept */
export const putDevice = (id: string, data: Device, secret: string | null) =>
  json(`/devices/${id}`, 'PUT', { data, secret })

export const deleteDevice = (id: string) => json(`/devices/${id}`, 'DELETE')

export const sendMessage = (device: string, message: string) =>
  json(`/devices/${device}/messages/${message}`, 'POST')

export const tryMessage = (message: DeviceMessage, local: boolean, secret: string | null, device: string) =>
  json<DeviceState>('/devices/try', 'POST', { message, local, secret, device })

export const readRemoteSettings = () => read(client['remote-settings'].$get())

export const addRemoteKey = (key: { name: string; rights: RemoteRight[]; endsAt: string | null }) =>
  read(client['remote-settings'].keys.$post({ json: key }))

export const removeRemoteKey = (id: string) =>
  read(client['remote-settings'].keys[':id'].$delete({ param: { id } }))

export const setOsc = (settings: OscSettings) => read(client['remote-settings'].osc.$put({ json: settings }))

export const setTimeZone = (venueId: string, timeZone: string) =>
  read(client.venues[':id'].$patch({ param: { id: venueId }, json: { timeZone } }))

export const readSurveys = () => read(client.surveys.$get())
export const storeFromSurvey = (id: string, at: { panDeg: number; tiltDeg: number; hfovDeg: number }) =>
  read(client.surveys[':id'].presets.$post({ param: { id }, json: at }))

/** A preset's frame is changed on the survey, without moving the camera. */
export const reframePreset = (
  id: string,
  preset: string,
  at: { panDeg: number; tiltDeg: number; hfovDeg: number },
) => read(client.surveys[':id'].presets[':preset'].$put({ param: { id, preset }, json: at }))

/** @param lensToo presets are zoomed as large as they were */
export const mendBump = (id: string, bump: Bump, lensToo: boolean) =>
  read(client.cameras[':id']['mend-bump'].$post({ param: { id }, json: { bump, lensToo } }))
export const undoBump = (id: string) => read(client.cameras[':id']['mend-bump'].$delete({ param: { id } }))

export const readRoom = () => read(client.room.$get())
/** @param version the one that it was made from */
export const putRoom = (version: number, room: RoomKept) =>
  read(client.room.$put({ json: { version, room } }))
type PutPlan = (typeof client.room.picture)['$put']
export const putPlanPicture = (file: Blob) => send<PutPlan>('/room/picture', 'PUT', file)
export const deletePlanPicture = () => read(client.room.picture.$delete())

export const makeSeatGrid = (cameraId: string, section: string, grid: SeatGrid) =>
  read(client.presets.grid.$post({ json: { cameraId, section, grid } }))
export const readGrids = () => read(client.presets.grids.$get())
export const putGrid = (id: string, grid: SeatGrid) =>
  read(client.presets.grids[':id'].$put({ param: { id }, json: { grid } }))
export const deletePresets = (ids: string[]) => read(client.presets.remove.$post({ json: { ids } }))
