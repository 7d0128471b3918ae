/** Asks for what every place needs while the page is still waiting for its fonts. */
import { preload } from 'swr'
import { readDesk, readMe } from '../api/client'
import { pictures } from './pictures'

export function startEarly(): void {
  void preload('desk', readDesk)
  void preload('me', readMe)
  pictures.ready()
}
