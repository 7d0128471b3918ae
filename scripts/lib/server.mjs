/** Puts the server into one file of plain JavaScript: it starts faster, and its hot paths run as written. */
import { mkdirSync, renameSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { Fault } from './say.mjs'

/** @returns the file to run */
export async function buildServer(root) {
  // Only now: at the very first start it is not installed before.
  const { build } = await import('esbuild')
  const outfile = join(root, 'dist-server/main.cjs')
  try {
    const { outputFiles } = await build({
      absWorkingDir: root,
      entryPoints: ['src/server/main.ts'],
      outfile,
      bundle: true,
      platform: 'node',
      target: 'node20',
      format: 'cjs',
      packages: 'external',
      sourcemap: true,
      logLevel: 'silent',
      write: false,
    })
    mkdirSync(dirname(outfile), { recursive: true })
    // Put there whole: another start may be reading it.
    for (const { path, contents } of outputFiles) {
      const part = `${path}.${process.pid}`
      writeFileSync(part, contents)
      renameSync(part, path)
    }
  } catch (error) {
    throw new Fault(`The server could not be built: ${error.message}`)
  }
  return outfile
}
