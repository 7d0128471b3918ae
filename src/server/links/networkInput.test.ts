/**
 * What comes from the network is read without exceptions. Whatever can throw on it stands in core/safely, or
 * in one of the places named here, where the exception is caught or is an answer to whoever asked.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'

const root = join(__dirname, '../../..')
const THROWS =
  /\bnew URL\(|\bJSON\.parse\(|\bv\.parse\(|\bdecodeURIComponent\(|\bparseEnvelope\(|\bBuffer\.alloc\(Number/
/** By file: why it may. */
const ALLOWED: Record<string, string> = {
  'src/core/safely.ts': 'it is what catches',
  'src/core/onvif/discovery.ts': 'caught there: an answer that makes no sense is none',
  'src/core/onvif/soap.ts': 'its callers await it and catch',
  'src/core/formats/presetList.ts': 'files: caught, and refused in words',
  'src/core/formats/venueFile.ts': 'files: caught, and refused in words',
  'src/core/heads/registry.ts': 'profiles of ours',
  'src/core/heads/pictureControls.ts': 'controls of ours',
  'src/server/routes/remote.ts': 'caught there',
  'src/server/venues/applyImport.ts': 'of what was written as JSON just before',
  'src/server/venues/readCommandSet.ts': 'files: caught, and refused in words',
  'src/server/cameras/onvif/client.ts':
    'of settings that were checked; awaited, and caught as a fault of the device',
  'src/server/cameras/commands/wire.ts': 'of settings that were checked; awaited by whoever sends',
  'src/server/links/exchange.ts': 'of lines that were checked; awaited, and caught as a fault of the device',
  'src/server/live/hub.ts': 'caught there',
  'src/server/live/pictureSocket.ts': 'caught there',
  'src/server/main.ts': 'the start',
  'src/server/store/demo.ts': 'files of ours',
}

function* sources(folder: string): Generator<string> {
  for (const entry of readdirSync(join(root, folder), { withFileTypes: true })) {
    const path = `${folder}/${entry.name}`
    // Cameras for the tests speak to nobody else.
    if (entry.isDirectory()) yield* entry.name === 'testing' ? [] : sources(path)
    else if (/(?<!\.test)\.ts$/.test(entry.name)) yield path
  }
}

test('nothing that throws on what the network sends stands where nobody catches it', () => {
  const found = [...sources('src/server'), ...sources('src/core')].filter((path) =>
    readFileSync(join(root, path), 'utf8')
      .split('\n')
      .some((line) => THROWS.test(line) && !/^\s*(\*|\/\/)/.test(line)),
  )
  expect(found.filter((path) => !(path in ALLOWED))).toEqual([])
  // What needs no exception any more loses it.
  expect(Object.keys(ALLOWED).filter((path) => !found.includes(path))).toEqual([])
})
