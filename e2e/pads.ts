/** Gamepads that a test moves, as the browser would give them to a page. */
import type { Page } from 'puppeteer-core'

export interface Pad {
  id: string
  axes: number[]
  buttons: number
}

/** Puts gamepads into the browser, as its own interface would give them. */
export async function withPads(page: Page, pads: Pad[]): Promise<void> {
  await page.evaluateOnNewDocument((list) => {
    const made = list.map(({ id, axes, buttons }, index) => ({
      id,
      index,
      connected: true,
      mapping: '',
      timestamp: 0,
      axes: [...axes],
      buttons: Array.from({ length: buttons }, () => ({ pressed: false, touched: false, value: 0 })),
    }))
    const all: (unknown | null)[] = made
    Object.assign(window, {
      __axis: (pad: number, axis: number, value: number) => {
        made[pad]!.axes[axis] = value
      },
      __button: (pad: number, button: number, down: boolean) => {
        Object.assign(made[pad]!.buttons[button]!, { pressed: down, value: down ? 1 : 0 })
      },
      __unplug: (pad: number) => {
        all[pad] = null
        window.dispatchEvent(new Event('gamepaddisconnected'))
      },
    })
    navigator.getGamepads = () => all as Gamepad[]
  }, pads)
}

export const axis = (page: Page, pad: number, index: number, value: number) =>
  page.evaluate(
    (p, i, v) => (window as unknown as { __axis(p: number, i: number, v: number): void }).__axis(p, i, v),
    pad,
    index,
    value,
  )
export const button = (page: Page, pad: number, index: number, down: boolean) =>
  page.evaluate(
    (p, i, d) =>
      (window as unknown as { __button(p: number, i: number, d: boolean): void }).__button(p, i, d),
    pad,
    index,
    down,
  )

/** Puts a MIDI controller into the browser, which has allowed it. */
export const withMidi = (page: Page, name: string) =>
  page.evaluateOnNewDocument((called) => {
    const input: { id: string; name: string; state: string; onmidimessage?: (event: unknown) => void } = {
      ...{ id: 'one', name: called, state: 'connected' },
    }
    const access = { inputs: new Map([[input.id, input]]), onstatechange: null }
    Object.assign(navigator, { requestMIDIAccess: async () => access })
    const { permissions } = navigator
    const query = permissions.query.bind(permissions)
    permissions.query = async (asked) =>
      (asked.name as string) === 'midi' ? ({ state: 'granted' } as PermissionStatus) : query(asked)
    Object.assign(window, {
      __knob: (index: number, value: number) => input.onmidimessage?.({ data: [0xb0, index, value] }),
    })
  }, name)

/** @param value 0..127 */
export const knob = (page: Page, index: number, value: number) =>
  page.evaluate(
    (i, v) => (window as unknown as { __knob(i: number, v: number): void }).__knob(i, v),
    index,
    value,
  )
