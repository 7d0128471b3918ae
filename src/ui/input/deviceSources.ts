/** What the browser offers to drive with: gamepads and joysticks, and MIDI controllers, all read alike. */
import type { Reading } from '../../core/controls/device'

export interface Device {
  /** As the browser names it; two of a kind are told apart by their place. */
  id: string
  name: string
  read(): Reading
}

function gamepads(): Device[] {
  const pads = navigator.getGamepads?.() ?? []
  const seen = new Map<string, number>()
  return [...pads].flatMap((pad) => {
    if (!pad?.connected) return []
    const count = (seen.get(pad.id) ?? 0) + 1
    seen.set(pad.id, count)
    return [
      {
        id: count === 1 ? pad.id : `${pad.id} #${count}`,
        name: `${pad.id.replace(/\s*\(.*\)\s*$/, '')}${count === 1 ? '' : ` ${count}`}`,
        read: () => ({ axes: pad.axes, buttons: pad.buttons.map((b) => b.pressed || b.value > 0.5) }),
      },
    ]
  })
}

/** Before the name of a MIDI controller, as controls know it. */
const MIDI = 'MIDI '
export const isMidi = (id: string): boolean => id.startsWith(MIDI)

/** A controller's knobs and faders are its axes, by their number; its keys are its buttons. */
class MidiDevice implements Device {
  readonly id: string
  /** Not known until it is turned: a knob that was left aside must not seem to be pushed. */
  private readonly axes = new Array<number>(128).fill(Number.NaN)
  private readonly buttons = new Array<boolean>(128).fill(false)

  constructor(
    readonly name: string,
    input: MIDIInput,
  ) {
    this.id = MIDI + name
    input.onmidimessage = (event) => {
      const [status = 0, index = 0, value = 0] = event.data ?? []
      const kind = status & 0xf0
      if (kind === 0xb0) this.axes[index & 127] = value / 63.5 - 1
      else if (kind === 0x90 || kind === 0x80) this.buttons[index & 127] = kind === 0x90 && value > 0
    }
  }

  read(): Reading {
    return { axes: [...this.axes], buttons: [...this.buttons] }
  }
}

class Sources {
  private midi = new Map<string, MidiDevice>()
  private asked = false
  private looked = false

  get midiThere(): boolean {
    return typeof navigator !== 'undefined' && 'requestMIDIAccess' in navigator
  }

  /** The browser asks the operator for leave, so only when somebody wants it. @returns why not, or null */
  async openMidi(): Promise<string | null> {
    if (!this.midiThere) return 'This browser has no MIDI. Use another one for that.'
    if (this.asked) return null
    try {
      const access = await navigator.requestMIDIAccess()
      this.asked = true
      const look = () => {
        const before = this.midi
        this.midi = new Map()
        for (const input of access.inputs.values()) {
          if (input.state === 'disconnected') continue
          this.midi.set(input.id, before.get(input.id) ?? new MidiDevice(input.name ?? 'controller', input))
        }
      }
      look()
      access.onstatechange = look
      return null
    } catch {
      return 'The browser did not allow MIDI. Allow it for this page, then try again.'
    }
  }

  /** A MIDI controller that this person was taught with works again without being looked for, once the browser has allowed it. */
  async openMidiAgain(): Promise<void> {
    if (this.asked || this.looked || !this.midiThere) return
    this.looked = true
    try {
      const leave = await navigator.permissions.query({ name: 'midi' as PermissionName })
      if (leave.state === 'granted') await this.openMidi()
    } catch {
      // This browser does not tell whether it would ask: it is left to the key in Setup.
    }
  }

  all(): Device[] {
    if (typeof navigator === 'undefined') return []
    return [...gamepads(), ...this.midi.values()]
  }
}

export const sources = new Sources()
