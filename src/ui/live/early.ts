/** Asks for what every place needs while the page is still waiting for its fonts. */

import { preload } from 'swr'
import { readDesk } from '../api/client'
import { readMe } from '../api/people'
import { under } from './base'
import { pictures } from './pictures'

/** Kept by the browser for when the desk does not answer; only a secure connection allows it. */
async function keepCover(): Promise<void> {
  await navigator.serviceWorker?.register(under('/sw.js')).catch(() => {})
}

export function startEarly(): void {
  void preload('desk', readDesk)
  void preload('me', readMe)
  pictures.ready()
  void keepCover()
}
