/** Whether a build is up to date with its sources. */
import { createHash } from 'node:crypto'
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'

function* files(path) {
  if (statSync(path).isDirectory())
    for (const name of readdirSync(path).sort()) yield* files(join(path, name))
  else if (!/\.test\.tsx?$/.test(path)) yield path
}

/** @param sources files and folders, from the root */
export function sourceHash(root, sources) {
  const hash = createHash('sha256')
  for (const source of sources) {
    for (const file of files(join(root, source)))
      hash.update(file.slice(root.length)).update(readFileSync(file))
  }
  return hash.digest('hex')
}
