/** Head profiles of the venue's own, and the camera report: seen, changed, used, and taken away. */
import type { Browser, Page } from 'puppeteer-core'
import { apiOf, withApplication } from './application'
import { by, eventually, fill, press, pressIn, type Running, reads, textOf, WIDE } from './harness'

let running: Running
let browser: Browser

withApplication((r, b) => {
  ;[running, browser] = [r, b]
})

const { ask, desk, camera, named } = apiOf(() => running)

async function openSetup(): Promise<Page> {
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await page.goto(`${running.address}/setup`)
  await page.waitForSelector(by('add-camera'))
  return page
}

test('a report has the packet of a recall in plain words, and no password', async () => {
  const { id } = await named('Scoreboard')
  await eventually('recalled', async () => (await ask(`/presets/${id}/recall`, 'POST', {})).status === 200)
  const page = await openSetup()
  await press(page, 'edit-1')
  await pressIn(page, 'open-report')
  await reads(page, 'report-packets', /Stands at pan/)
  await fill(page, 'filter-report', 'go to pan')
  await reads(page, 'report-packets', /Go to pan -?\d+, tilt -?\d+/)
  await pressIn(page, 'pause-report')
  const before = await textOf(page, 'report-packets')
  await new Promise((resolve) => setTimeout(resolve, 1500))
  expect(await textOf(page, 'report-packets')).toBe(before)
  const gallery = await camera('Gallery')
  const benches = await camera('Benches')
  for (const { id: cameraId } of [gallery, benches]) {
    const text = await (await ask(`/cameras/${cameraId}/report/file`)).text()
    expect(text).toMatch(/The last \d+ packets/)
    expect(text).not.toMatch(/reed-warbler|tidewater|PasswordDigest|UsernameToken|<w:Nonce/)
  }
})

test('a profile is duplicated, changed and used; a used one cannot be deleted', async () => {
  const page = await openSetup()
  await press(page, 'part-Heads')
  await pressIn(page, 'duplicate-head-marsh-20x')
  await eventually('it is there', async () => (await desk()).headProfiles.length === 1)
  const [copy] = (await desk()).headProfiles
  await pressIn(page, `edit-head-${copy!.id}`)
  await page.waitForSelector(by('drawn-zoom'))
  await fill(page, 'head-pan.unitsPerDeg', '0')
  await reads(page, 'head-problem', /above 0/)
  await fill(page, 'head-pan.unitsPerDeg', '82')
  await pressIn(page, 'save-head')
  await eventually('it is kept', async () => (await desk()).headProfiles[0]?.pan.unitsPerDeg === 82)
  const gallery = await camera('Gallery')
  const { id, passwords: _, warnings: __, ...settings } = gallery
  const use = (headProfile: string) =>
    ask(`/cameras/${id}`, 'PUT', { settings: { ...settings, headProfile, headConfirmed: false } })
  expect((await use(copy!.id)).status).toBe(200)
  const refused = await ask(`/head-profiles/${copy!.id}`, 'DELETE')
  expect([refused.status, await refused.text()]).toEqual([409, expect.stringMatching(/Gallery, uses/)])
  expect((await ask(`/cameras/${id}`, 'PUT', { settings })).status).toBe(200)
  await eventually('deleted', async () => (await ask(`/head-profiles/${copy!.id}`, 'DELETE')).status === 200)
  expect((await ask('/head-profiles', 'POST', { format: 'steady-heron/head-profile' })).status).toBe(400)
  expect((await ask('/head-profiles/marsh-20x/file')).status).toBe(200)
})

test('the check of the head finds a wrong profile and mends it, and the presets stay where they point', async () => {
  const gallery = await camera('Gallery')
  const { id, passwords: _, warnings: __, ...settings } = gallery
  const use = (headProfile: string) =>
    ask(`/cameras/${id}`, 'PUT', { settings: { ...settings, headProfile, headConfirmed: false } })
  await use('common-20x')
  const page = await openSetup()
  await press(page, 'edit-1')
  await eventually('it answers', async () => /ready/.test(await textOf(page, 'health-lines')), 10_000)
  // Stored with the wrong profile: what counts is where the head stands.
  const stored = await ask('/presets', 'POST', { cameraId: id, name: 'Before' })
  expect(stored.status).toBe(200)
  const there = await running.truth()
  await pressIn(page, 'check-head')
  await page.waitForSelector(by('found-pan-scale'), { timeout: 20_000 })
  expect(await textOf(page, 'found-pan-scale')).toMatch(/80 steps in a degree instead of 14.4/)
  for (const axis of ['pan', 'tilt']) {
    await pressIn(page, `mend-${axis}-scale`)
    await eventually('mended', async () => {
      const now = await camera('Gallery')
      const profile = (await desk()).headProfiles.find((p) => p.id === now.headProfile)
      return profile?.[axis as 'pan'].unitsPerDeg === 80
    })
    if (axis === 'tilt') break
    await press(page, 'edit-1')
    await eventually('it answers', async () => /ready/.test(await textOf(page, 'health-lines')), 10_000)
    await pressIn(page, 'check-head')
    await page.waitForSelector(by('found-tilt-scale'), { timeout: 20_000 })
  }
  await press(page, 'edit-1')
  await eventually('it answers', async () => /ready/.test(await textOf(page, 'health-lines')), 10_000)
  await pressIn(page, 'check-head')
  await pressIn(page, 'confirm-head')
  await eventually('confirmed', async () => (await camera('Gallery')).headConfirmed)
  const preset = await named('Before')
  expect(Math.abs(preset.pose.panDeg - there.panDeg)).toBeLessThan(0.2)
  await eventually(
    'recalled',
    async () => (await ask(`/presets/${preset.id}/recall`, 'POST', {})).status === 200,
  )
  await eventually('back', async () => Math.abs((await running.truth()).panDeg - there.panDeg) < 0.1, 10_000)
  await ask(`/cameras/${id}`, 'PUT', { settings })
}, 120_000)

test('a page that closes in the middle of a check leaves the camera standing', async () => {
  const { id } = await camera('Gallery')
  const page = await openSetup()
  await press(page, 'edit-1')
  await eventually('it answers', async () => /ready/.test(await textOf(page, 'health-lines')), 10_000)
  await pressIn(page, 'check-head')
  await eventually('it turns', async () => (await running.truth()).moving)
  await page.close()
  await eventually('it stands', async () => !(await running.truth()).moving, 2000)
  const { panDeg, tiltDeg } = await running.truth()
  await new Promise((resolve) => setTimeout(resolve, 2500))
  expect(await running.truth()).toMatchObject({ panDeg, tiltDeg, moving: false })
  // The next one has it at once.
  expect((await ask(`/cameras/${id}/check`, 'POST')).status).toBe(200)
}, 60_000)

test('a mend that makes no sense is refused, and the profile stays', async () => {
  const { id, headProfile } = await camera('Gallery')
  const mends = [{ axis: 'pan', minDeg: 300 }]
  expect((await ask(`/cameras/${id}/mend-head`, 'POST', { mends, confirmed: true })).status).toBe(400)
  expect((await camera('Gallery')).headProfile).toBe(headProfile)
})
