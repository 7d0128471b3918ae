/** The server's API, with its types. */
import { hc } from 'hono/client'
import type { Api, DeskView, Stored } from '../../server/api'

const client = hc<Api>('/api')

/** A fault that the server or the network told, in words for the operator. */
export class Refused extends Error {}

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

export const readDesk = (): Promise<DeskView> => read(client.desk.$get() as Open<DeskView>)

export const storePreset = (cameraId: string): Promise<Stored> =>
  read(client.presets.$post({ json: { cameraId } }) as Open<Stored>)

export const storeOver = (id: string): Promise<Stored> =>
  read(client.presets[':id'].shot.$put({ param: { id } }) as Open<Stored>)

export const backToVersion = (id: string, version: number) =>
  read(client.presets[':id'].version.$put({ param: { id }, json: { version } }) as Open<{ ok: true }>)

export const renamePreset = (id: string, name: string) =>
  read(client.presets[':id'].$patch({ param: { id }, json: { name } }) as Open<{ ok: true }>)

export const deletePreset = (id: string) =>
  read(client.presets[':id'].$delete({ param: { id } }) as Open<{ ok: true }>)

export const restorePreset = (id: string) =>
  read(client.presets[':id'].restore.$post({ param: { id } }) as Open<{ ok: true }>)

export const pictureUrl = (id: string) => `/api/pictures/${id}`
