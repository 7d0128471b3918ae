/**
 * Drives with every device that is there, each by its own profile. Looked at every 8 ms while there is
 * one; a device that is pulled out lets go at once of what it drove.
 */
import { useSyncExternalStore } from 'react'
import type { ActionName } from '../../core/controls/actions'
import { type AxisBinding, type DeviceProfile, usualDevice, usualKnobs } from '../../core/controls/controls'
import { deflection, faderOf, pressed, pushOf, springsBack } from '../../core/controls/device'
import { changeControls, controlsNow } from './controlsStore'
import { type Device, isMidi, sources } from './deviceSources'
import { axisHeld, knobTurned } from './inHand'
import { sticks } from './sticks'
import { holdAction, type PressActions } from './useKeys'

const LOOK_MS = 8
const NOTHING_THERE_MS = 400

interface Driven {
  device: Device
  held: Set<ActionName>
  fader: number | null
  knob: number | null
  driving: boolean
}

const usual = (id: string): DeviceProfile => (isMidi(id) ? usualKnobs(id) : usualDevice(id))

export const profileOf = (id: string): DeviceProfile =>
  controlsNow().devices.find((p) => p.device === id) ?? usual(id)

export function changeProfile(id: string, change: (profile: DeviceProfile) => DeviceProfile): void {
  changeControls((c) => ({
    ...c,
    devices: [
      ...c.devices.filter((p) => p.device !== id),
      change(c.devices.find((p) => p.device === id) ?? usual(id)),
    ],
  }))
}

class Devices {
  /** What the Desk does when a button is pressed; nothing elsewhere. */
  press: PressActions = {}
  private driven = new Map<string, Driven>()
  private names: readonly string[] = []
  private paused = false
  private runs = false
  private readonly listeners = new Set<() => void>()

  /** From now on, wherever the page goes. */
  run(): void {
    if (this.runs || typeof window === 'undefined') return
    this.runs = true
    window.addEventListener('gamepadconnected', () => this.look())
    window.addEventListener('gamepaddisconnected', () => this.look())
    this.turn()
  }

  /** While a device is being taught it drives nothing. */
  pause(paused: boolean): void {
    this.paused = paused
    if (paused) for (const id of this.driven.keys()) this.release(id)
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  list = (): readonly string[] => this.names

  get(id: string): Device | null {
    return this.driven.get(id)?.device ?? null
  }

  private turn(): void {
    this.look()
    setTimeout(() => this.turn(), this.driven.size > 0 ? LOOK_MS : NOTHING_THERE_MS)
  }

  private look(): void {
    if (controlsNow().devices.some(({ device }) => isMidi(device))) void sources.openMidiAgain()
    const there = sources.all()
    const ids = new Set(there.map((d) => d.id))
    for (const id of [...this.driven.keys()]) {
      if (ids.has(id)) continue
      this.release(id)
      this.driven.delete(id)
    }
    for (const device of there) {
      const known = this.driven.get(device.id)
      if (known) known.device = device
      else this.driven.set(device.id, { device, held: new Set(), fader: null, knob: null, driving: false })
    }
    const names = [...this.driven.keys()]
    if (names.join('\n') !== this.names.join('\n')) {
      this.names = names
      for (const listener of this.listeners) listener()
    }
    if (!this.paused && !document.hidden) for (const one of this.driven.values()) this.drive(one)
  }

  private release(id: string): void {
    const one = this.driven.get(id)
    if (!one) return
    sticks.push(`device-${id}`, null)
    for (const name of one.held) holdAction(`device-${id}-${name}`, name, false, this.press)
    one.held.clear()
    one.driving = false
  }

  private drive(one: Driven): void {
    const { device } = one
    const profile = profileOf(device.id)
    const reading = device.read()
    const push = pushOf(reading, profile)
    const drives = push.pan !== 0 || push.tilt !== 0 || push.zoom !== 0 || push.focus !== 0
    if (drives || one.driving) sticks.push(`device-${device.id}`, drives ? push : null, profile.camera)
    one.driving = drives
    const down = new Set(profile.buttons.filter((b) => pressed(reading, b.button)).map((b) => b.action))
    for (const name of down)
      if (!one.held.has(name)) holdAction(`device-${device.id}-${name}`, name, true, this.press)
    for (const name of one.held)
      if (!down.has(name)) holdAction(`device-${device.id}-${name}`, name, false, this.press)
    one.held = down
    const fader = faderOf(reading, profile.axes.speed)
    this.turnSetting(one, reading, profile.axes.setting)
    // Only a fader that is moved sets the speed: its position alone means nothing.
    if (fader !== null && one.fader !== null && Math.abs(fader - one.fader) > 0.008)
      changeControls((c) => ({ ...c, feel: { ...c.feel, speed: Math.max(0.05, fader) }, byCamera: {} }))
    if (one.fader === null || (fader !== null && Math.abs(fader - one.fader) > 0.008)) one.fader = fader
  }

  private turnSetting(one: Driven, reading: ReturnType<Device['read']>, binding: AxisBinding | null): void {
    if (!binding) return
    if (binding.kind === 'buttons' || (!isMidi(one.device.id) && springsBack(binding))) {
      axisHeld(deflection(reading, binding), LOOK_MS / 1000)
      return
    }
    const at = faderOf(reading, binding)
    if (at !== null && one.knob !== null && at !== one.knob) knobTurned(at - one.knob)
    one.knob = at
  }
}

export const devices = new Devices()

/** The devices that are there now, by their ids. */
export const useDevices = (): readonly string[] => useSyncExternalStore(devices.subscribe, devices.list)
