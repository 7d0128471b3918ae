import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { found, HELP, WALK } from './pages'

const views = readdirSync(join(__dirname, '../../app'))
  .filter((file) => !file.startsWith('_'))
  .map((file) => (file === 'index.tsx' ? '/' : `/${file.replace('.tsx', '')}`))

test('every view has a page: what it shows, what its controls do, three things that go wrong', () => {
  expect(Object.keys(HELP).sort()).toEqual([...views].sort())
  for (const { title, about, controls, wrong } of Object.values(HELP)) {
    expect([title, about.length > 60, controls.length >= 4, wrong.length >= 3]).toEqual([
      title,
      true,
      true,
      true,
    ])
    for (const { name, does } of controls) expect([name, /\.$/.test(does)]).toEqual([name, true])
    for (const { what, instead } of wrong)
      expect([what, /\.$/.test(what), /\.$/.test(instead)]).toEqual([what, true, true])
  }
  for (const { path } of WALK) expect(HELP[path]).toBeDefined()
})

test('letters find the lines that hold them, on whatever page', () => {
  const pages = Object.values(HELP)
  const hits = pages.map((page) => found(page, 'JOYSTICK')).filter((page) => page !== null)
  expect(hits.map(({ title }) => title)).toEqual(['Setup'])
  expect(hits[0]!.controls.map(({ name }) => name)).toEqual(['Controls'])
  expect(pages.every((page) => found(page, '  ') === page)).toBe(true)
  expect(pages.filter((page) => found(page, 'zebra'))).toEqual([])
})
