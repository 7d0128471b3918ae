/** What the body of the rig does and answers, without the socket and the login. */
import type { Head } from '../body/head'

const FULL = 10_000

/** What its sensor calls its settings, and the words of those that have words. */
const SENSOR: Readonly<Record<string, string>> = {
  mode: 'exposureMode',
  iris: 'iris',
  shutter: 'shutter',
  gain: 'gain',
  white: 'whiteBalance',
  red: 'redGain',
  blue: 'blueGain',
  colour: 'saturation',
  rec: 'recording',
}
const WORDS: Readonly<Record<string, readonly string[]>> = {
  mode: ['auto', 'hand'],
  white: ['auto', 'lamps', 'hand'],
  rec: ['off', 'on'],
}
const CODES: Readonly<Record<string, readonly number[]>> = { mode: [0, 3], white: [0, 1, 5], rec: [0, 1] }

export class LensAnswers {
  constructor(private readonly head: Head) {}

  /** @returns status and text */
  answer(url: URL, nowMs: number): [number, string] {
    const number = (name: string) => {
      const text = url.searchParams.get(name)
      const value = Number(text)
      return text === null || !Number.isFinite(value) ? null : value
    }
    this.head.advance(nowMs)
    switch (url.pathname) {
      case '/state':
        return [200, this.state()]
      case '/zoom':
        return this.zoom(number('rate'), number('to'))
      case '/focus':
        return this.focus(number('rate'), number('to'), url.searchParams.get('auto'))
      case '/picture':
        return this.picture(url.searchParams)
      case '/power':
        if (url.searchParams.get('state') === 'on') this.head.power = true
        else this.head.standby()
        return [200, 'ok']
      default:
        return [404, 'no such command']
    }
  }

  /** Its sensor: each setting by its name, whole numbers and words. */
  private picture(asked: URLSearchParams): [number, string] {
    const { head } = this
    if (!head.power) return [409, 'standby']
    for (const [name, text] of asked) {
      const key = SENSOR[name]
      const word = WORDS[name]?.indexOf(text)
      const value = word === undefined ? Number(text) : (CODES[name]?.[word] ?? Number.NaN)
      if (!key || !Number.isFinite(value)) return [400, 'bad value']
      if (!head.eye.set(key, value)) return [409, 'not in this mode']
    }
    return [200, 'ok']
  }

  private sensor(): string {
    return Object.entries(SENSOR)
      .map(([name, key]) => {
        const at = CODES[name]?.indexOf(this.head.eye.level(key))
        return `${name}=${at === undefined ? this.head.eye.level(key) : (WORDS[name]?.[at] ?? '')}`
      })
      .join(';')
  }

  private get zoomRange(): [number, number] {
    return [this.head.lens.wide, this.head.lens.tele]
  }

  private state(): string {
    const { head } = this
    const { near, far } = head.profile.focus
    const [wide, tele] = this.zoomRange
    const zoom = Math.round(((head.zoom.position - wide) / (tele - wide)) * FULL)
    const focus = Math.round(((head.focus.position - far) / (near - far)) * FULL)
    return `zoom=${zoom};focus=${focus};auto=${head.focus.auto ? 'on' : 'off'};power=${head.power ? 'on' : 'standby'};${this.sensor()}`
  }

  private zoom(rate: number | null, to: number | null): [number, string] {
    const { head } = this
    if (!head.power) return [409, 'standby']
    const [wide, tele] = this.zoomRange
    const top = head.profile.zoomSpeedsPerSec[7]!
    if (rate !== null && Math.abs(rate) <= 100) head.zoom.drive((rate / 100) * top)
    else if (to !== null && to >= 0 && to <= FULL)
      head.zoom.goTo(wide + (to / FULL) * (tele - wide), head.profile.zoomTravelPerSec)
    else return [400, 'bad value']
    return [200, 'ok']
  }

  private focus(rate: number | null, to: number | null, auto: string | null): [number, string] {
    const { head } = this
    if (!head.power) return [409, 'standby']
    const { near, far } = head.profile.focus
    if (auto === 'on' || auto === 'off') head.focus.setAuto(auto === 'on')
    else if (head.focus.auto) return [409, 'automatic']
    else if (rate !== null && Math.abs(rate) <= 7)
      head.focus.drive(Math.sign(rate), Math.max(0, Math.abs(rate) - 1))
    else if (to !== null && to >= 0 && to <= FULL) head.focus.goTo(far + (to / FULL) * (near - far))
    else return [400, 'bad value']
    return [200, 'ok']
  }
}
