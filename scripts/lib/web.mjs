/** Builds the pages if their sources have changed. */
import { existsSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
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
    .map((path) => `<link rel="preload" href="/${path}" as="font" type="font/ttf" crossorigin />`)
  writeFileSync(page, readFileSync(page, 'utf8').replace('</head>', `${links.join('')}</head>`))
}

const WORTH_IT = /\.(js|html|css|json|svg|ttf)$/

/** Puts a compressed copy beside each file, so that no request waits for it. */
function precompress(folder) {
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile() || !WORTH_IT.test(entry.name)) continue
    const path = join(entry.parentPath ?? entry.path, entry.name)
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
    precompress(fresh)
    writeFileSync(join(fresh, '.built'), hash)
    rmSync(dist, { recursive: true, force: true })
    renameSync(fresh, dist)
  })
}
