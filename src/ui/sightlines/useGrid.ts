/** A seat grid while it is made: corners from touches, the seats that follow, made and taken back as one. */
import { useMemo, useState } from 'react'
import useSWR from 'swr'
import type { PanTilt } from '../../core/optics/aim'
import { type MadeGrid, type Seat, seatsOf } from '../../core/survey/seatGrid'
import { deletePresets, makeSeatGrid, putGrid, readGrids } from '../api/client'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { formOf, type GridForm, gridOf, USUAL_FORM } from './gridForm'

/** What a change of a block has done, in sentences. */
const changedWords = ({ changed, made, removed, beyond }: Awaited<ReturnType<typeof putGrid>>) =>
  [
    `Moved ${changed} presets.`,
    made > 0 ? `Made ${made}.` : '',
    removed > 0 ? `Removed ${removed}.` : '',
    beyond > 0 ? `${beyond} are out of its reach: those that there are stay as they were.` : '',
  ]
    .filter(Boolean)
    .join(' ')

export function useGrid(camera: string) {
  const [open, setOpen] = useState(false)
  const [form, setForm] = useState<GridForm>(USUAL_FORM)
  const [corners, setCorners] = useState<readonly (PanTilt | null)[]>([null, null, null, null])
  const [corner, setCorner] = useState(0)
  const { data: all, mutate } = useSWR<MadeGrid[]>('seat grids', readGrids)
  const grids = (all ?? []).filter(({ cameraId }) => cameraId === camera)
  /** The one whose presets are moved; null: a new one is made. */
  const [changing, setChanging] = useState<MadeGrid | null>(null)
  const made = useMemo(() => {
    const all = corners.filter((one) => one !== null)
    const grid = gridOf(form, all)
    if (!grid || 'problem' in grid) return { grid: null, seats: null, problem: grid?.problem ?? null }
    const seats = seatsOf(grid)
    return 'problem' in seats
      ? { grid: null, seats: null, problem: seats.problem }
      : { grid, seats: seats as readonly Seat[], problem: null }
  }, [form, corners])
  const touch = (at: PanTilt) => {
    const next = corners.map((was, i) => (i === corner ? at : was))
    setCorners(next)
    const missing = next.indexOf(null)
    if (missing >= 0) setCorner(missing)
  }
  const make = () =>
    told(async () => {
      if (!made.grid) return
      const { ids, beyond } = await makeSeatGrid(camera, form.section.trim(), made.grid)
      const left = beyond > 0 ? ` ${beyond} are out of its reach, and were left out.` : ''
      note(`Made ${ids.length} presets.${left}`, {
        actions: [{ label: 'Undo', act: () => void told(() => deletePresets(ids)) }],
      })
      setOpen(false)
      begin(null)
      void mutate()
    })
  /** Begins with a grid that is there, or anew. */
  const begin = (one: MadeGrid | null) => {
    setChanging(one)
    setCorners(one ? one.grid.corners : [null, null, null, null])
    setCorner(0)
    if (one) setForm(formOf(one.grid, one.section))
  }
  const move = () =>
    told(async () => {
      if (!made.grid || !changing) return
      const { id, grid } = changing
      const done = await putGrid(id, made.grid)
      note(changedWords(done), {
        actions: [
          {
            label: 'Undo',
            act: () =>
              void told(async () => {
                await putGrid(id, grid)
                await mutate()
              }),
          },
        ],
      })
      setOpen(false)
      begin(null)
      void mutate()
    })
  return {
    ...{ open, setOpen, form, setForm, corners, corner, setCorner, touch, make, ...made },
    ...{ grids, changing, begin, move },
  }
}
