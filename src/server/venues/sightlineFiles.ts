/** Surveys and the room of an event, out into a venue file and back. */
import { randomUUID } from 'node:crypto'
import type { FileRoom, FileSurvey } from '../../core/formats/venueFile'
import { solvable } from '../../core/room/solvable'
import { solveRoom } from '../../core/room/solveRoom'
import type { Database } from '../store/database'
import { putPlanPicture, putRoom, readPlanPicture, readRoom } from '../store/room'
import { keepSurvey, readPieces, readShots, readSurveys, removeSurvey } from '../store/surveys'

type Pictures = Map<string, Buffer>

const put = (pictures: Pictures, jpeg: Uint8Array) => {
  const name = `pictures/${randomUUID()}.jpg`
  pictures.set(name, Buffer.from(jpeg))
  return name
}

/** @param pictures takes their JPEGs */
export async function surveysOut(
  db: Database,
  eventId: string,
  cameras: ReadonlySet<string>,
  pictures: Pictures,
): Promise<FileSurvey[]> {
  const out: FileSurvey[] = []
  for (const { id, cameraId, takenAt, about } of await readSurveys(db, eventId)) {
    if (!cameras.has(cameraId)) continue
    const [shots, pieces] = [await readShots(db, id), await readPieces(db, id)]
    out.push({
      ...{ cameraId, takenAt: takenAt.toISOString(), ...about },
      shots: shots.map(
        ({ jpeg, ...shot }) => ({ ...shot, picture: put(pictures, jpeg) }) as FileSurvey['shots'][number],
      ),
      pieces: pieces.map(({ jpeg, ...piece }) => ({ ...piece, picture: put(pictures, jpeg) })),
    })
  }
  return out
}

export async function roomOut(db: Database, eventId: string, pictures: Pictures): Promise<FileRoom | null> {
  const { version, points, length, pins, placed, picture } = await readRoom(db, eventId)
  if (version === 0) return null
  const jpeg = picture ? await readPlanPicture(db, eventId) : null
  return {
    ...{ points, length, pins, placed },
    picture:
      picture && jpeg ? { name: put(pictures, jpeg), width: picture.width, height: picture.height } : null,
  }
}

/** @param merged what is here and not in the file stays, and a survey that is newer here than in the file */
export async function surveysIn(
  db: Database,
  eventId: string,
  surveys: readonly FileSurvey[],
  pictures: ReadonlyMap<string, Buffer>,
  merged: boolean,
): Promise<void> {
  const rows = await readSurveys(db, eventId)
  const here = new Map(rows.map((one) => [one.cameraId, one.takenAt]))
  if (!merged)
    for (const { id, cameraId } of rows)
      if (!surveys.some((one) => one.cameraId === cameraId)) await removeSurvey(db, id)
  for (const { cameraId, takenAt, shots, pieces, ...about } of surveys) {
    const taken = new Date(takenAt)
    const now = here.get(cameraId)
    if (merged && now && now > taken) continue
    const jpegOf = ({ picture }: { picture: string }) => pictures.get(picture)!
    await keepSurvey(db, {
      ...{ eventId, cameraId, takenAt: taken, about },
      tiles: pieces.map((piece) => ({ ...piece, jpeg: jpegOf(piece) })),
      shots: shots.map((shot) => ({ ...shot, jpeg: jpegOf(shot) }) as never),
    })
  }
}

/** Where the cameras stand is computed anew. */
export async function roomIn(
  db: Database,
  eventId: string,
  { picture, ...kept }: FileRoom,
  cameras: ReadonlySet<string>,
  pictures: ReadonlyMap<string, Buffer>,
): Promise<void> {
  const { version } = await readRoom(db, eventId)
  await putRoom(db, eventId, version, kept, solveRoom(solvable(kept, cameras)))
  const jpeg = picture && pictures.get(picture.name)
  if (picture && jpeg)
    await putPlanPicture(db, eventId, { jpeg, width: picture.width, height: picture.height })
}
