/** Settings are data: whatever a camera offers is drawn by its kind, and set by its key. */
import { fireEvent, render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { SettingSpec, SettingValues } from '../../core/picture/settings'
import { useFact } from '../live/hooks'
import { order } from '../presets/actions'
import { SettingsPart } from './SettingsPart'
import type { DeskCamera } from './useCamera'

jest.mock('../live/hooks', () => ({ useFact: jest.fn() }))
jest.mock('../presets/actions', () => ({ order: jest.fn() }))

const plain = { group: 'lens' as const, needs: [], usual: null, restarts: false, told: true }
const SPECS: SettingSpec[] = [
  { kind: 'switch', key: 'lamp', label: 'Status lamp', ...plain },
  { kind: 'range', key: 'gain', label: 'Gain', ...plain, min: 0, max: 30, step: 3, unit: 'dB', marks: [] },
  {
    ...{ kind: 'choice', key: 'mode', label: 'Mode', ...plain },
    options: [
      { value: 'auto', label: 'Automatic' },
      { value: 'manual', label: 'By hand' },
    ],
  } as SettingSpec,
]

function show(settings: SettingSpec[], values: SettingValues | null, enabled = true) {
  jest.mocked(useFact).mockReturnValue(values as never)
  jest.mocked(order).mockClear()
  const camera = { view: { id: 'c' }, able: { settings }, enabled } as unknown as DeskCamera
  return render(<SettingsPart camera={camera} />)
}

test('each kind has its control, with the value that the camera told', () => {
  show(SPECS, { lamp: true, gain: 12, mode: 'manual' })
  expect(screen.getByRole('radio', { name: 'On' }).getAttribute('aria-checked')).toBe('true')
  expect(screen.getByRole('slider', { name: 'Gain' }).getAttribute('aria-valuetext')).toBe('12 dB')
  expect(screen.getByRole('radio', { name: 'By hand' }).getAttribute('aria-checked')).toBe('true')
})

test('what is set goes to the camera by its key', async () => {
  show(SPECS, { lamp: true, gain: 12, mode: 'manual' })
  await userEvent.click(screen.getByRole('radio', { name: 'Off' }))
  fireEvent.keyDown(screen.getByRole('slider', { name: 'Gain' }), { key: 'ArrowUp' })
  await userEvent.click(screen.getByRole('radio', { name: 'Automatic' }))
  expect(jest.mocked(order).mock.calls.map(([o]) => o)).toMatchObject([
    { t: 'setting', camera: 'c', key: 'lamp', value: false },
    { t: 'setting', key: 'gain', value: 15 },
    { t: 'setting', key: 'mode', value: 'auto' },
  ])
})

test('of what the camera has not told nothing is claimed', () => {
  show(SPECS, null)
  for (const radio of screen.getAllByRole('radio')) expect(radio.getAttribute('aria-checked')).toBe('false')
  expect(screen.getByRole('slider', { name: 'Gain' }).getAttribute('aria-valuetext')).toBe('not known')
})

test('a camera without settings has no part for them; one that is silent has them greyed', () => {
  const { container, unmount } = show([], null)
  expect(container.textContent).toBe('')
  unmount()
  show(SPECS, null, false)
  expect(screen.getByRole('radio', { name: 'On' }).getAttribute('aria-disabled')).toBe('true')
})
