/** The pieces of the interface by their roles: what a screen reader and a keyboard find. */
import { fireEvent, render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { Fader } from '../controls/Fader'
import { ZoomStrip } from '../controls/ZoomStrip'
import { Choice } from './Choice'
import { Field } from './Field'
import { Key } from './Key'
import { Toggle } from './Toggle'

test('a key is a button: pressed by mouse and keyboard, named by its words, silent where it is disabled', async () => {
  const pressed = jest.fn()
  const { rerender } = render(<Key label="Store" onPress={pressed} on description="Keeps where it stands" />)
  const key = screen.getByRole('button', { name: 'Store' })
  expect(key.getAttribute('aria-pressed')).toBe('true')
  const description = document.getElementById(key.getAttribute('aria-describedby')!)
  expect(description?.textContent).toBe('Keeps where it stands')
  await userEvent.click(key)
  expect(pressed).toHaveBeenCalledTimes(1)
  rerender(<Key label="Store" onPress={pressed} disabled />)
  fireEvent.click(screen.getByRole('button', { name: 'Store' }))
  expect(pressed).toHaveBeenCalledTimes(1)
  expect(screen.getByRole('button').getAttribute('aria-disabled')).toBe('true')
})

test("a shortcut is shown and told apart from the key's name", () => {
  render(<Key label="Home" shortcut="H" />)
  const key = screen.getByRole('button', { name: 'Home' })
  expect(key.getAttribute('aria-keyshortcuts')).toBe('H')
  expect(key.textContent).toContain('H')
})

test('a key that acts while it is held lets go when it loses the focus', () => {
  const held: boolean[] = []
  render(<Key label="Near" onHold={(is) => held.push(is)} />)
  const key = screen.getByRole('button')
  fireEvent.focus(key)
  fireEvent.blur(key)
  expect(held.at(-1)).toBe(false)
})

function Paces({ first }: { first: string | null }) {
  const [value, setValue] = useState<string>(first ?? '')
  const options = ['quick', 'timed', 'steady'].map((name) => ({ value: name, label: name }))
  return <Choice<string> label="Pace" options={options} value={value || null} onChange={setValue} />
}
const checked = () => screen.getAllByRole('radio').map((r) => r.getAttribute('aria-checked') === 'true')

test('a choice is a group of radio buttons: one tab stop, walked through by the arrows, round its ends', () => {
  render(<Paces first="quick" />)
  const group = screen.getByRole('radiogroup', { name: 'Pace' })
  expect(checked()).toEqual([true, false, false])
  expect(screen.getAllByRole('radio').map((r) => r.tabIndex)).toEqual([0, -1, -1])
  fireEvent.keyDown(group, { key: 'ArrowRight' })
  expect(checked()).toEqual([false, true, false])
  fireEvent.keyDown(group, { key: 'ArrowLeft' })
  fireEvent.keyDown(group, { key: 'ArrowLeft' })
  expect(checked()).toEqual([false, false, true])
  expect(document.activeElement?.textContent).toBe('steady')
  // Other keys are for whoever is above.
  fireEvent.keyDown(group, { key: 'x' })
  expect(checked()).toEqual([false, false, true])
})

test('a choice of which nothing is known shows none as chosen, and can still be reached', async () => {
  render(<Paces first={null} />)
  expect(checked()).toEqual([false, false, false])
  expect(screen.getAllByRole('radio')[0]!.tabIndex).toBe(0)
  await userEvent.click(screen.getByRole('radio', { name: 'timed' }))
  expect(checked()).toEqual([false, true, false])
})

test('a toggle is a checkbox with its words', async () => {
  const changed = jest.fn()
  render(<Toggle label="Upside down" value={false} onChange={changed} />)
  const box = screen.getByRole('checkbox', { name: 'Upside down' })
  expect(box.getAttribute('aria-checked')).toBe('false')
  await userEvent.click(box)
  expect(changed).toHaveBeenCalledWith(true)
})

test('a field tells its label, its hint, and what is wrong instead of it', async () => {
  const typed = jest.fn()
  const { rerender } = render(<Field label="Port" value="" onChangeText={typed} hint="Often 52381" />)
  expect(screen.queryByText('Often 52381')).not.toBeNull()
  await userEvent.type(screen.getByLabelText('Port'), '8')
  expect(typed).toHaveBeenCalledWith('8')
  rerender(<Field label="Port" value="x" onChangeText={typed} hint="Often 52381" problem="Not a number." />)
  expect(screen.queryByText('Often 52381')).toBeNull()
  expect(screen.queryByText('Not a number.')).not.toBeNull()
})

function Speed() {
  const [value, setValue] = useState(0.5)
  return <Fader label="Speed" value={value} text={`${Math.round(value * 100)} %`} onChange={setValue} />
}

test('a fader is a slider with its value, set by the arrow keys and kept within its ends', () => {
  render(<Speed />)
  const slider = screen.getByRole('slider', { name: 'Speed' })
  const now = () => Number(slider.getAttribute('aria-valuenow'))
  expect([now(), slider.getAttribute('aria-valuetext')]).toEqual([50, '50 %'])
  fireEvent.keyDown(slider, { key: 'ArrowUp' })
  expect(now()).toBe(55)
  for (let i = 0; i < 30; i++) fireEvent.keyDown(slider, { key: 'ArrowDown' })
  expect(now()).toBe(0)
  for (let i = 0; i < 30; i++) fireEvent.keyDown(slider, { key: 'ArrowRight' })
  expect(now()).toBe(100)
  expect([slider.getAttribute('aria-valuemin'), slider.getAttribute('aria-valuemax')]).toEqual(['0', '100'])
})

test('the zoom strip is a slider that stands in its middle, and tells the magnification', () => {
  render(<ZoomStrip height={200} enabled text="3.4×" />)
  const strip = screen.getByRole('slider', { name: 'Zoom' })
  expect(strip.getAttribute('aria-valuenow')).toBe('0')
  expect(strip.getAttribute('aria-valuetext')).toBe('3.4×')
})
