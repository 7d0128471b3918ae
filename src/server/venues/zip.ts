/** Venue files as zips: written in a stream, read with suspicion. */
import { type Entry, fromBuffer, type ZipFile as Reader } from 'yauzl'
import { ZipFile } from 'yazl'
import {
  FileRefused,
  PICTURE_NAME,
  parseVenueJson,
  picturesIn,
  type VenueFile,
} from '../../core/formats/venueFile'
import { isJpeg } from '../video/frame'

const MAX_ZIP_BYTES = 256 * 1024 * 1024
const MAX_ENTRIES = 25_000
const MAX_JSON_BYTES = 32 * 1024 * 1024
const MAX_PICTURE_BYTES = 4 * 1024 * 1024
const MAX_TOTAL_BYTES = 512 * 1024 * 1024
const JSON_NAME = 'venue.json'
const SCHEMA_NAME = 'venue.schema.json'

export interface VenueBundle {
  file: VenueFile
  /** JPEGs by their name in the zip. */
  pictures: Map<string, Buffer>
}

export function writeVenueZip({ file, pictures }: VenueBundle, schema: string): Promise<Buffer> {
  const zip = new ZipFile()
  zip.addBuffer(Buffer.from(`${JSON.stringify(file, null, 2)}\n`), JSON_NAME)
  zip.addBuffer(Buffer.from(schema), SCHEMA_NAME)
  // JPEGs do not get smaller.
  for (const [name, jpeg] of pictures) zip.addBuffer(jpeg, name, { compress: false })
  zip.end()
  return new Promise((resolve, reject) => {
    const pieces: Buffer[] = []
    zip.outputStream.on('data', (piece: Buffer) => pieces.push(piece))
    zip.outputStream.on('end', () => resolve(Buffer.concat(pieces)))
    zip.outputStream.on('error', reject)
  })
}

const damaged = () => new FileRefused('This file is damaged, or no zip at all.')
const tooLarge = () => new FileRefused('This file holds far more than a venue needs. It is not opened.')

function limitOf(name: string): number {
  if (name === JSON_NAME || name === SCHEMA_NAME) return MAX_JSON_BYTES
  if (PICTURE_NAME.test(name)) return MAX_PICTURE_BYTES
  throw new FileRefused(
    `This file holds something that does not belong into a venue file: "${name.slice(0, 60)}".`,
  )
}

/** What an entry says of its size is checked by the reader while it unpacks: more than that is refused. */
function unpack(reader: Reader, entry: Entry): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    reader.openReadStream(entry, (error, stream) => {
      if (error || !stream) return reject(damaged())
      const pieces: Buffer[] = []
      stream.on('data', (piece: Buffer) => pieces.push(piece))
      stream.on('error', () => reject(damaged()))
      stream.on('end', () => resolve(Buffer.concat(pieces)))
    })
  })
}

/** @throws FileRefused; nothing of the file is used then */
export async function readVenueZip(bytes: Buffer): Promise<VenueBundle> {
  if (bytes.length > MAX_ZIP_BYTES) throw tooLarge()
  const reader = await new Promise<Reader>((resolve, reject) => {
    fromBuffer(bytes, { lazyEntries: true, validateEntrySizes: true, strictFileNames: true }, (error, zip) =>
      error || !zip ? reject(damaged()) : resolve(zip),
    )
  })
  if (reader.entryCount > MAX_ENTRIES) throw tooLarge()
  const contents = new Map<string, Buffer>()
  let total = 0
  await new Promise<void>((resolve, reject) => {
    const next = async (entry: Entry) => {
      const name = entry.fileName
      const limit = limitOf(name)
      total += entry.uncompressedSize
      if (entry.uncompressedSize > limit || total > MAX_TOTAL_BYTES) throw tooLarge()
      if (contents.has(name)) throw damaged()
      if (entry.isEncrypted()) throw new FileRefused('This file is locked with a password.')
      contents.set(name, await unpack(reader, entry))
      reader.readEntry()
    }
    reader.on('entry', (entry: Entry) => void next(entry).catch(reject))
    reader.on('error', () => reject(damaged()))
    reader.on('end', resolve)
    reader.readEntry()
  }).finally(() => reader.close())
  return bundle(contents)
}

function bundle(contents: Map<string, Buffer>): VenueBundle {
  const json = contents.get(JSON_NAME)
  if (!json) throw new FileRefused('This is no venue file: it has no venue.json.')
  const file = parseVenueJson(json.toString('utf8'))
  const pictures = new Map<string, Buffer>()
  for (const picture of picturesIn(file)) {
    const jpeg = contents.get(picture)
    if (!jpeg) throw new FileRefused('This venue file is damaged: a picture is missing.')
    if (!isJpeg(jpeg)) throw new FileRefused('This venue file is damaged: a picture is no JPEG.')
    pictures.set(picture, jpeg)
  }
  return { file, pictures }
}
