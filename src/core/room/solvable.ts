import type { RoomKept, RoomMarks } from './room'

/** What is solved for. Of a camera that is taken out its touches are kept, in case it is taken back, and left out. */
export const solvable = (
  { points, length }: Pick<RoomKept, 'points' | 'length'>,
  cameras: ReadonlySet<string>,
): RoomMarks => ({
  points: points.map((point) => ({
    ...point,
    marks: point.marks.filter(({ cameraId }) => cameras.has(cameraId)),
  })),
  length,
})
