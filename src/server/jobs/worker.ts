/** The other end of the pool: one job at a time on this thread. */
import { setPriority } from 'node:os'
import * as v from 'valibot'
import { FileRefused } from '../../core/formats/venueFile'
import { JOBS, type JobName } from './jobs'

// This thread's work can wait; the hands cannot.
setPriority(10)
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
