/** Builds the pages if their sources have changed. */
import { cpSync, existsSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'
import { run, tail } from './run.mjs'
import { Fault, step } from './say.mjs'
import { sourceHash } from './sourceHash.mjs'

const SOURCES = [
  'src/ui',
  'src/app',
  'src/core',
  'public',
  'app.json',
  'babel.config.js',
  'metro.config.js',
  'package-lock.json',
]

/** Lets the browser fetch the fonts beside the code: the first page waits for both. */
function preloadFonts(folder) {
  const page = join(folder, 'index.html')
  const links = readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && entry.name.endsWith('.ttf'))
    .map((entry) => relative(folder, join(entry.parentPath ?? entry.path, entry.name)))
    .map((path) => `<link rel="preload" href="${BASE_MARK}/${path}" as="font" type="font/ttf" crossorigin />`)
  writeFileSync(page, readFileSync(page, 'utf8').replace('</head>', `${links.join('')}</head>`))
}

/** Stands in the built pages for the path under which they are served; the same as in app.json. */
const BASE_MARK = '/__base__'
/** The pages as they were built, not yet put under a path. */
const UNPLACED = '.unplaced'
const TEXT = /\.(js|html|css|json|webmanifest)$/

/** Puts the path under which they are served into all pages of a folder, as `/desk`; '' for none. */
function placeUnder(folder, base) {
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile() || !TEXT.test(entry.name)) continue
    const path = join(entry.parentPath ?? entry.path, entry.name)
    if (path.includes(UNPLACED)) continue
    const text = readFileSync(path, 'utf8')
    if (text.includes(BASE_MARK)) writeFileSync(path, text.replaceAll(BASE_MARK, base))
  }
}

/** The pages for a desk that is served under a path, as `/desk`. @returns their folder */
export async function ensureWebUnder(root, base) {
  const dist = join(root, 'dist')
  if (base === '') return dist
  const placed = join(root, 'dist-placed')
  const stamp = join(placed, '.built')
  const wanted = `${readFileSync(join(dist, '.built'), 'utf8')} ${base}`
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return placed
  await step(`Putting the pages under ${base}`, async () => {
    rmSync(placed, { recursive: true, force: true })
    cpSync(join(dist, UNPLACED), placed, { recursive: true })
    placeUnder(placed, base)
    precompress(placed)
    writeFileSync(stamp, wanted)
  })
  return placed
}

const WORTH_IT = /\.(js|html|css|json|svg|ttf)$/

/** Puts a compressed copy beside each file, so that no request waits for it. */
function precompress(folder) {
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile() || !WORTH_IT.test(entry.name)) continue
    const path = join(entry.parentPath ?? entry.path, entry.name)
    if (path.includes(UNPLACED)) continue
    const bytes = readFileSync(path)
    const params = { [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length }
    writeFileSync(`${path}.br`, brotliCompressSync(bytes, { params }))
    writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }))
  }
}

export async function ensureWeb(root) {
  const dist = join(root, 'dist')
  const stamp = join(dist, '.built')
  const hash = sourceHash(root, SOURCES)
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return
  await step('Building the pages (about a minute)', async () => {
    // Built beside and then put in place, so that a broken build leaves the old pages whole.
    const fresh = join(root, 'dist.new')
    rmSync(fresh, { recursive: true, force: true })
    const env = { ...process.env, CI: '1', EXPO_OFFLINE: '1', EXPO_NO_TELEMETRY: '1', NODE_ENV: 'production' }
    const args = ['node_modules/expo/bin/cli', 'export', '--platform', 'web', '--output-dir', 'dist.new']
    const { code, output } = await run(process.execPath, args, { cwd: root, env })
    if (code !== 0) throw new Fault(`The pages could not be built:\n${tail(output, 30)}`)
    preloadFonts(fresh)
    const unplaced = join(root, 'dist.unplaced')
    rmSync(unplaced, { recursive: true, force: true })
    cpSync(fresh, unplaced, { recursive: true })
    renameSync(unplaced, join(fresh, UNPLACED))
    placeUnder(fresh, '')
    precompress(fresh)
    writeFileSync(join(fresh, '.built'), hash)
    rmSync(dist, { recursive: true, force: true })
    renameSync(fresh, dist)
  })
}
