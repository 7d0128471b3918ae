import { gridOf, USUAL_FORM } from './gridForm'

const CORNERS = [
  { panDeg: -10, tiltDeg: -10 },
  { panDeg: 10, tiltDeg: -10 },
  { panDeg: 8, tiltDeg: -5 },
  { panDeg: -8, tiltDeg: -5 },
]

test('what is typed becomes a grid; what makes no sense is said', () => {
  expect(gridOf(USUAL_FORM, CORNERS.slice(0, 3))).toBeNull()
  expect(gridOf(USUAL_FORM, CORNERS)).toMatchObject({ seats: new Array(8).fill(12), aislesAfter: [] })
  expect(gridOf({ ...USUAL_FORM, rows: '3', seats: '8, 10,12', aislesAfter: '4' }, CORNERS)).toMatchObject({
    seats: [8, 10, 12],
    aislesAfter: [4],
  })
  expect(gridOf({ ...USUAL_FORM, rows: '4', seats: '8, 10' }, CORNERS)).toHaveProperty('problem')
  for (const wrong of [
    { rows: '' },
    { rows: '0' },
    { seats: 'many' },
    { firstRow: '-1' },
    { rows: '60', seats: '100' },
  ])
    expect(gridOf({ ...USUAL_FORM, ...wrong }, CORNERS)).toHaveProperty('problem')
})
