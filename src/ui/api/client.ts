/** The server's API, with its types. */
import { hc } from 'hono/client'
import type { CameraSettings, Connection, Secrets } from '../../core/cameras/connection'
import type { Controls } from '../../core/controls/controls'
import { CHANGE_HEADER, PAGE_HEADER } from '../../core/live/headers'
import type { Pace, Parts } from '../../core/presets/pace'
import type {
  Api,
  DeskView,
  ImportMode,
  ImportPlan,
  Outcome,
  PersonView,
  Search,
  SearchOrder,
  Stored,
  VersionView,
  Ways,
} from '../../server/api'
import { live } from '../live/live'

/** Asked at each request: what this page is called changes with its connection. */
const headers = () => ({ [CHANGE_HEADER]: '1', [PAGE_HEADER]: live().pageKey })
const client = hc<Api>('/api', { headers })

/** A fault that the server or the network told, in words for the operator. */
export class Refused extends Error {}

/** There is no venue yet, or none is open. */
export class NoVenue extends Refused {}

const UNREACHABLE =
  'The server does not answer. See that the computer which runs it is on, and on this network.'

interface Answer<T> {
  ok: boolean
  json(): Promise<T | { error: string }>
}

async function read<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await request
  } catch {
    throw new Refused(UNREACHABLE)
  }
  let body: T | { error: string }
  try {
    body = await answer.json()
  } catch {
    throw new Refused(UNREACHABLE)
  }
  if (!answer.ok) throw new Refused((body as { error?: string }).error ?? 'The server refused this.')
  return body as T
}

type Open<T> = Promise<Answer<T>>

export async function readDesk(): Promise<DeskView> {
  const request = client.desk.$get() as Promise<Answer<DeskView> & { status: number }>
  const answer = await request.catch(() => null)
  if (answer?.status === 404) throw new NoVenue('No venue is open.')
  return read(answer ? Promise.resolve(answer) : Promise.reject(new Error()))
}

export interface StoreWish {
  /** Where it is free; null for the next free one. */
  number?: number | null
  /** With exposure and white balance. */
  light: boolean
  /** Into this memory of the camera's own too. */
  memory?: number | null
}
export const storePreset = (cameraId: string, wish: StoreWish): Promise<Stored> =>
  read(client.presets.$post({ json: { cameraId, ...wish } }) as Open<Stored>)

export const storeOver = (id: string, light: boolean): Promise<Stored> =>
  read(client.presets[':id'].shot.$put({ param: { id }, json: { light } }) as Open<Stored>)

export const keepLight = (id: string, keep: boolean) =>
  read(client.presets[':id'].light.$put({ param: { id }, json: { keep } }) as Open<{ ok: true }>)

export const keepInMemory = (id: string, memory: number | null) =>
  read(client.presets[':id'].memory.$put({ param: { id }, json: { memory } }) as Open<{ ok: true }>)

export const stopRound = (cameraId: string) =>
  read(client.cameras[':id'].round.$delete({ param: { id: cameraId } }) as Open<{ ok: true }>)

/** How a camera's presets travel, and where they are kept. */
export interface Habits {
  pace?: Pace | null
  holdPicture?: boolean
  alsoInMemory?: boolean
  leash?: boolean
}
export const setHabits = (cameraId: string, habits: Habits) =>
  read(client.cameras[':id'].habits.$patch({ param: { id: cameraId }, json: habits }) as Open<{ ok: true }>)

export const backToVersion = (id: string, version: number) =>
  read(client.presets[':id'].version.$put({ param: { id }, json: { version } }) as Open<{ ok: true }>)

export interface PresetChange {
  name?: string
  section?: string
  mark?: string
  pace?: Pace | null
  parts?: Parts
  pinned?: boolean
}
export const changePreset = (id: string, change: PresetChange) =>
  read(client.presets[':id'].$patch({ param: { id }, json: change }) as Open<{ ok: true }>)

export const readVersions = (id: string): Promise<VersionView[]> =>
  read(client.presets[':id'].versions.$get({ param: { id } }) as Open<VersionView[]>)

export const orderPresets = (ids: string[], board: 'own' | 'pinned') =>
  read(client.presets.order.$post({ json: { ids, board } }) as Open<{ ok: true }>)

export const copyPresets = (
  ids: string[],
  eventId: string,
  cameraId: string | null,
): Promise<{ ids: string[] }> =>
  read(client.presets.copy.$post({ json: { ids, eventId, cameraId } }) as Open<{ ids: string[] }>)

export const retakePicture = (id: string) =>
  read(client.presets[':id'].retake.$post({ param: { id } }) as Open<{ ok: true }>)

export const putPicture = (id: string, file: Blob) =>
  read(
    fetch(`/api/presets/${id}/picture`, { method: 'PUT', body: file, headers: headers() }) as Open<{
      ok: true
    }>,
  )

export const addEvent = (name: string): Promise<{ id: string }> =>
  read(client.events.$post({ json: { name } }) as Open<{ id: string }>)

export const changeEvent = (id: string, change: { name?: string; words?: string[] }) =>
  read(client.events[':id'].$patch({ param: { id }, json: change }) as Open<{ ok: true }>)

export const openEvent = (id: string) =>
  read(client.events[':id'].open.$post({ param: { id } }) as Open<{ ok: true }>)

export const deleteEvent = (id: string) =>
  read(client.events[':id'].$delete({ param: { id } }) as Open<{ ok: true }>)

export const deletePreset = (id: string) =>
  read(client.presets[':id'].$delete({ param: { id } }) as Open<{ ok: true }>)

export const restorePreset = (id: string) =>
  read(client.presets[':id'].restore.$post({ param: { id } }) as Open<{ ok: true }>)

export const pictureUrl = (id: string) => `/api/pictures/${id}`

type Ok = { ok: true }

export const tryCamera = (
  connection: Connection,
  secrets: Secrets,
  cameraId: string | null,
): Promise<Outcome> =>
  read(client.cameras.try.$post({ json: { connection, secrets, cameraId } }) as Open<Outcome>)

export const addCamera = (settings: CameraSettings, secrets: Secrets): Promise<{ id: string }> =>
  read(client.cameras.$post({ json: { settings, secrets } }) as Open<{ id: string }>)

export const changeCamera = (id: string, settings: CameraSettings, secrets: Secrets) =>
  read(client.cameras[':id'].$put({ param: { id }, json: { settings, secrets } }) as Open<Ok>)

export const deleteCamera = (id: string) => read(client.cameras[':id'].$delete({ param: { id } }) as Open<Ok>)

export const restoreCamera = (id: string) =>
  read(client.cameras[':id'].restore.$post({ param: { id } }) as Open<Ok>)

export const orderCameras = (ids: string[]) => read(client.cameras.order.$post({ json: { ids } }) as Open<Ok>)

export const numberByAddress = () => read(client.cameras['number-by-address'].$post() as Open<Ok>)

type Failed = { failed: { camera: string; message: string }[] }
export const powerAll = (on: boolean): Promise<Failed> =>
  read(client.cameras.power.$post({ json: { on } }) as Open<Failed>)

export const readWays = (): Promise<Ways> => read(client.find.ways.$get() as Open<Ways>)

export const startSearch = (order: SearchOrder): Promise<Search> =>
  read(client.find.$post({ json: order }) as Open<Search>)

export const readSearch = (id: string): Promise<Search> =>
  read(client.find[':id'].$get({ param: { id } }) as Open<Search>)

export const cancelSearch = (id: string) => read(client.find[':id'].$delete({ param: { id } }) as Open<Ok>)

export const addVenue = (name: string): Promise<{ id: string }> =>
  read(client.venues.$post({ json: { name } }) as Open<{ id: string }>)

export const renameVenue = (id: string, name: string) =>
  read(client.venues[':id'].$patch({ param: { id }, json: { name } }) as Open<Ok>)

export const openVenue = (id: string) => read(client.venues[':id'].open.$post({ param: { id } }) as Open<Ok>)

export const deleteVenue = (id: string) => read(client.venues[':id'].$delete({ param: { id } }) as Open<Ok>)

export interface Looked {
  id: string
  plan: ImportPlan
}

const upload = (path: string, body: Blob | string, type: string) =>
  read<Looked>(
    fetch(`/api${path}`, { method: 'POST', body, headers: { ...headers(), 'content-type': type } }),
  )

export const lookAtVenueFile = (file: Blob) => upload('/venues/imports/zip', file, 'application/zip')

export const lookAtCsv = (text: string) => upload('/venues/imports/csv', text, 'text/csv')

type Applied = { venueId: string; backup: string | null }
export const applyImport = (id: string, mode: ImportMode): Promise<Applied> =>
  read(client.venues.imports[':id'].$post({ param: { id }, json: { mode } }) as Open<Applied>)

export const putCommandSet = (text: string) =>
  read<Ok>(
    fetch('/api/command-sets', {
      method: 'POST',
      body: text,
      headers: { ...headers(), 'content-type': 'application/json' },
    }),
  )

export const deleteCommandSet = (id: string) =>
  read(client['command-sets'][':id'].$delete({ param: { id } }) as Open<Ok>)

export const readPersons = (): Promise<PersonView[]> => read(client.persons.$get() as Open<PersonView[]>)

export const addPerson = (name: string): Promise<PersonView> =>
  read(client.persons.$post({ json: { name } }) as Open<PersonView>)

export const renamePerson = (id: string, name: string) =>
  read(client.persons[':id'].$put({ param: { id }, json: { name } }) as Open<Ok>)

export const putControls = (id: string, controls: Controls) =>
  read(client.persons[':id'].$put({ param: { id }, json: { controls } }) as Open<Ok>)

export const deletePerson = (id: string) => read(client.persons[':id'].$delete({ param: { id } }) as Open<Ok>)

export const setLimit = (id: string, edge: 'left' | 'right' | 'up' | 'down' | 'none') =>
  read(client.cameras[':id'].limits.$post({ param: { id }, json: { edge } }) as Open<Ok>)

/** Turns all presets of a camera by an angle, as its head has it. */
export const shiftPresets = (
  id: string,
  shift: { panDeg: number; tiltDeg: number },
): Promise<{ changed: number }> =>
  read(client.cameras[':id'].shift.$post({ param: { id }, json: shift }) as Open<{ changed: number }>)

/** @param text CSV or JSON */
export const takePresetList = (text: string): Promise<{ added: number; changed: number }> =>
  read(
    fetch('/api/presets/list', { method: 'POST', body: text, headers: headers() }) as Open<{
      added: number
      changed: number
    }>,
  )

export const hasDemo = (): Promise<{ present: boolean }> =>
  read(client.demo.$get() as Open<{ present: boolean }>)

export const addDemo = () => read(client.demo.$post() as Open<Ok>)

export const removeDemo = () => read(client.demo.$delete() as Open<Ok>)
