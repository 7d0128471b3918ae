/** The other end of the pool: one job at a time on this thread. */
import * as v from 'valibot'
import { FileRefused } from '../../core/formats/venueFile'
import { JOBS, type JobName } from './jobs'

v.setGlobalConfig({ abortEarly: true, abortPipeEarly: true })

export interface JobOrder {
  name: JobName
  arg: unknown
}

/** A refusal is told as a value: the class of an error does not survive the way between threads. */
export default async function work({
  name,
  arg,
}: JobOrder): Promise<{ value: unknown } | { refused: string }> {
  try {
    return { value: await (JOBS[name] as (a: unknown) => unknown)(arg) }
  } catch (error) {
    if (error instanceof FileRefused) return { refused: error.message }
    throw error
  }
}
