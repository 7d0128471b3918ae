/** `npm run bench`: measures the whole application side by side in one run. */
import { spawn } from 'node:child_process'
import { dirname } from 'node:path'
import { fileURLToPath } from 'node:url'
import { ensurePackages } from './lib/debian.mjs'
import { ensureNpm } from './lib/npm.mjs'
import { ensureWeb } from './lib/web.mjs'

const root = dirname(dirname(fileURLToPath(import.meta.url)))

async function main() {
  await ensurePackages(['postgresql', 'ffmpeg', 'socat', 'chromium'])
  await ensureNpm(root)
  await ensureWeb(root)
  const args = ['--import', 'tsx', 'bench/main.ts', ...process.argv.slice(2)]
  const child = spawn(process.execPath, args, { cwd: root, stdio: 'inherit' })
  child.on('close', (code) => process.exit(code ?? 1))
}

main().catch((error) => {
  console.error(error.message)
  process.exit(1)
})
