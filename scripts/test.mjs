/**
 * `npm test`: types, lint, the arrows between the rooms, unit tests, and tests against running
 * applications, each on a data folder and ports of its own, most of them in a browser. The last line counts what passed and failed.
 */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join, relative } from 'node:path'
import { fileURLToPath } from 'node:url'
import { ensurePackages } from './lib/debian.mjs'
import { ensureNpm } from './lib/npm.mjs'
import { run } from './lib/run.mjs'
import { Fault, say, step } from './lib/say.mjs'
import { ensureWeb } from './lib/web.mjs'

const root = dirname(dirname(fileURLToPath(import.meta.url)))
const results = mkdtempSync(join(tmpdir(), 'heron-results-'))
/** Their timings are promises. */
const MEASURED = [
  'truth',
  'drive',
  'safety',
  'presets',
  'faults',
  'linkCut',
  'attacks',
  'fieldVisca',
  'onAir',
  'picture',
  'far',
  'learning',
  'sightlines',
  'room',
  'bump',
  'keeping',
].map((name) => `e2e/${name}`)
let passed = 0
let failed = 0
/** Said again at the very end, where the reader of a long log looks. */
const failures = []

async function check(name, args) {
  const { code, output } = await step(name, () => run(process.execPath, args, { cwd: root }))
  if (code === 0) passed += 1
  else {
    failed += 1
    failures.push(name)
    say(output)
  }
}

/** @returns what Jest counted; null if it wrote nothing */
async function jest(name, args, env = {}) {
  const file = join(results, `${name}.json`)
  const all = [
    'node_modules/jest/bin/jest.js',
    '--ci',
    '--json',
    `--outputFile=${file}`,
    '--testLocationInResults',
    ...args,
  ]
  const { code, output } = await step(name, () =>
    run(process.execPath, all, { cwd: root, env: { ...process.env, ...env } }),
  )
  if (code !== 0) say(output.slice(-20_000))
  try {
    return JSON.parse(readFileSync(file, 'utf8'))
  } catch {
    return null
  }
}

function count(name, counts) {
  if (!counts) {
    failed += 1
    failures.push(`${name}: no results were written`)
    return
  }
  passed += counts.numPassedTests
  // A file that does not even load has no tests to count.
  failed += counts.numFailedTests + counts.numRuntimeErrorTestSuites
  if (counts.numTotalTests === 0) failed += 1
  for (const suite of counts.testResults) {
    const where = relative(root, suite.name)
    const broken = suite.assertionResults.filter((test) => test.status === 'failed')
    for (const test of broken)
      failures.push(`${where}: ${test.fullName}\n${test.failureMessages.join('\n').slice(0, 1500)}`)
    if (suite.status === 'failed' && broken.length === 0)
      failures.push(`${where}\n${suite.message.slice(0, 1500)}`)
  }
}

const tests = async (name, args) => count(name, await jest(name, args))

/**
 * Tests in browsers promise that something happens within seconds, and another program on this computer can
 * take those. A file that fails is run once more by itself; only what fails then has failed, and both is said.
 */
async function inBrowsers(name, args, env) {
  const first = await jest(name, args, env)
  const again = first?.testResults.filter(({ status }) => status === 'failed') ?? []
  if (!first || again.length === 0 || again.length > MOST_AGAIN) return count(name, first)
  const files = again.map((suite) => suite.name)
  const second = await jest(`${name}: those that failed, once more`, [...WHOLE, '--runInBand', ...files], env)
  for (const suite of again)
    for (const test of suite.assertionResults.filter(({ status }) => status === 'failed'))
      say(`At first: ${relative(root, suite.name)}: ${test.fullName}`)
  const others = first.testResults.filter(({ status }) => status !== 'failed')
  passed += others
    .flatMap((suite) => suite.assertionResults)
    .filter(({ status }) => status === 'passed').length
  count(name, second)
}

/** What the tests in browsers are started with. */
const WHOLE = ['--config', 'jest.e2e.config.js', '--forceExit']
/** With more than these it is no accident. */
const MOST_AGAIN = 6

async function main() {
  await ensurePackages(['postgresql', 'ffmpeg', 'socat', 'chromium', 'iproute2', 'haproxy'])
  await ensureNpm(root)
  // Side by side: each by itself leaves a processor idle.
  await Promise.all([
    check('Types', ['node_modules/typescript/bin/tsc', '--noEmit']),
    (async () => {
      await check('Lint and format', ['node_modules/@biomejs/biome/bin/biome', 'ci', '.'])
      await check('Arrows between the rooms', [
        'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
        '--config',
        '.dependency-cruiser.cjs',
        'src',
        'e2e',
        'bench',
      ])
      await check('Migrations match the schema', ['scripts/check-migrations.mjs'])
    })(),
    ensureWeb(root),
  ])
  await tests('Unit tests', ['--maxWorkers=100%'])
  // What a hand feels is measured in these: one after the other, since side by side they disturb each other.
  await inBrowsers('Hands, faults and cut links', [...WHOLE, '--runInBand', ...MEASURED])
  const others = `e2e/(?!(${MEASURED.map((path) => path.slice(4)).join('|')})\\.test)[^/]*\\.test\\.ts$`
  // Two applications and two browsers share the computer: few pictures leave room for what is tested.
  await inBrowsers('The rest of the application', [...WHOLE, '--maxWorkers=2', others], {
    HERON_SIM_RATE: '5',
  })
}

main()
  .catch((error) => {
    failed += 1
    console.error(error instanceof Fault ? error.message : error)
  })
  .finally(() => {
    rmSync(results, { recursive: true, force: true })
    for (const failure of failures) say(`Failed: ${failure}\n`)
    say(`${passed} passed, ${failed} failed`)
    process.exit(failed === 0 ? 0 : 1)
  })
