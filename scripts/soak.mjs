/** `npm run soak`: an hour of hands, recalls, stores and faults. SOAK_MINUTES, SOAK_SEED and SOAK_JSON set it. */
import { spawn } from 'node:child_process'
import { dirname } from 'node:path'
import { fileURLToPath } from 'node:url'
import { ensurePackages } from './lib/debian.mjs'
import { ensureNpm } from './lib/npm.mjs'
import { ensureWeb } from './lib/web.mjs'

const root = dirname(dirname(fileURLToPath(import.meta.url)))

async function main() {
  await ensurePackages(['postgresql', 'ffmpeg', 'socat'])
  await ensureNpm(root)
  await ensureWeb(root)
  const child = spawn(process.execPath, ['--import', 'tsx', 'bench/soak.ts'], { cwd: root, stdio: 'inherit' })
  child.on('close', (code) => process.exit(code ?? 1))
}

main().catch((error) => {
  console.error(error.message)
  process.exit(1)
})
