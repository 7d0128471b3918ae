/** Single JPEGs, fetched again and again, never two at once. */

import { parsedUrl } from '../../core/safely'
import { DeviceFault } from '../cameras/deviceFault'
import { type HttpLogin, http } from '../links/http'
import type { Opener } from './feed'
import { isJpeg } from './frame'
import { LOGIN_REFUSED } from './mjpeg'

const MAX_BYTES = 8 * 1024 * 1024
const TIMEOUT_MS = 2500

/** @throws DeviceFault with words for the operator */
export async function fetchJpeg(address: string, login: HttpLogin): Promise<Uint8Array> {
  const url = parsedUrl(address)
  if (!url)
    throw new DeviceFault('nonsense', 'The address of the picture makes no sense. Correct it in Setup.')
  let answer: Awaited<ReturnType<typeof http>>
  try {
    answer = await http({ url, login, maxBytes: MAX_BYTES, timeoutMs: TIMEOUT_MS })
  } catch (error) {
    if (error instanceof DeviceFault && error.kind === 'login') throw new DeviceFault('login', LOGIN_REFUSED)
    throw error
  }
  if (answer.status === 403) throw new DeviceFault('login', LOGIN_REFUSED)
  if (answer.status === 404)
    throw new DeviceFault('refused', 'There is no picture under this address. Check the path of the picture.')
  if (answer.status !== 200)
    throw new DeviceFault('refused', `The camera refuses its picture (HTTP ${answer.status}).`)
  if (!isJpeg(answer.body))
    throw new DeviceFault('nonsense', 'What is under the address of the picture is no JPEG.')
  return answer.body
}

export function openSnapshots(address: string, login: HttpLogin, perSec: number): Opener {
  return (events) => {
    let closed = false
    let timer: ReturnType<typeof setTimeout> | null = null
    const next = async () => {
      const from = performance.now()
      try {
        const jpeg = await fetchJpeg(address, login)
        if (closed) return
        events.jpeg(jpeg)
        timer = setTimeout(next, Math.max(0, 1000 / perSec - (performance.now() - from)))
      } catch (error) {
        if (!closed) events.end((error as Error).message)
      }
    }
    void next()
    return () => {
      closed = true
      if (timer) clearTimeout(timer)
    }
  }
}
