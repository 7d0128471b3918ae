/** Offers the leash for a camera whose link has been lost and found again. */

import { useEffect, useRef } from 'react'
import { can } from '../../core/facts/capabilities'
import { setHabits } from '../api/client'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import type { DeskCamera } from './useCamera'

export function useLeashOffer({ view, able, health }: DeskCamera): void {
  const before = useRef<{ id: string; reconnects: number } | null>(null)
  const reconnects = health?.reconnects ?? null
  const wanted = can(able, 'keepOnLeash') && !view.leash
  useEffect(() => {
    if (reconnects === null) return
    const known = before.current?.id === view.id ? before.current.reconnects : reconnects
    before.current = { id: view.id, reconnects }
    if (reconnects <= known || !wanted) return
    note(`${view.name} was out of reach for a while. On a leash it would have stopped by itself.`, {
      actions: [
        { label: 'Drive on a leash', act: () => void told(() => setHabits(view.id, { leash: true })) },
      ],
    })
  }, [reconnects, wanted, view.id, view.name])
}
