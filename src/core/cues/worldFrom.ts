/** What cues may know of the open venue, from what the desk knows: made anew when it was read again, and not before. */
import type { HeadProfile } from '../heads/profile'
import { profileOf } from '../heads/registry'
import { createLens, type Lens } from '../optics/lens'
import type { Pace } from '../presets/pace'
import type { Show } from './show'
import type { CueCamera, CueDevice, CuePreset, CueWorld } from './world'

/** As much of the desk's view as is needed. */
export interface WorldSource {
  cameras: readonly { id: string; number: number; name: string; headProfile: string; pace: Pace | null }[]
  headProfiles: readonly HeadProfile[]
  presets: readonly CuePreset[]
  show: Show
  devices: readonly CueDevice[]
}

const lenses = new WeakMap<HeadProfile, Lens>()
function lensOf(profile: HeadProfile): Lens {
  const known = lenses.get(profile)
  if (known) return known
  const made = createLens(profile.lens)
  lenses.set(profile, made)
  return made
}

const worlds = new WeakMap<WorldSource, CueWorld>()

export function worldFrom(source: WorldSource): CueWorld {
  const known = worlds.get(source)
  if (known) return known
  const cameras = source.cameras.map(({ id, number, name, headProfile, pace }): CueCamera => {
    const profile = profileOf(headProfile, source.headProfiles)
    return { id, number, name, profile, lens: lensOf(profile), pace }
  })
  const lookup = <T extends { id: string }>(all: readonly T[]) => {
    const byId = new Map(all.map((one) => [one.id, one]))
    return (id: string) => byId.get(id) ?? null
  }
  const { show } = source
  const world: CueWorld = {
    camera: lookup(cameras),
    preset: lookup(source.presets),
    cue: lookup(show.cues),
    tour: lookup(show.tours),
    move: lookup(show.moves),
    look: lookup(show.looks),
    device: lookup(source.devices),
  }
  worlds.set(source, world)
  return world
}
