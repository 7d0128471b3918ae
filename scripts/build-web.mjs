/** `npm run build`: the pages alone. */
import { dirname } from 'node:path'
import { fileURLToPath } from 'node:url'
import { ensureWeb } from './lib/web.mjs'

ensureWeb(dirname(dirname(fileURLToPath(import.meta.url)))).catch((error) => {
  console.error(error.message)
  process.exit(1)
})
