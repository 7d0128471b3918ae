/** Does something; tells the operator if it fails. */
import { fault } from './notes'

/** @returns null if it failed */
export async function told<T>(work: () => Promise<T>): Promise<T | null> {
  try {
    return await work()
  } catch (error) {
    fault((error as Error).message)
    return null
  }
}
