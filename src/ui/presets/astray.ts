/** Presets whose picture was seen not to show any more what was stored, for as long as this page is open. */
import { create } from 'zustand'

interface Astray {
  /** Preset -> the version that was compared. */
  presets: Readonly<Record<string, number>>
}
const useAstrayState = create((): Astray => ({ presets: {} }))

export function noteTrust(preset: { id: string; version: number }, astray: boolean): void {
  const { presets } = useAstrayState.getState()
  if (astray === (presets[preset.id] === preset.version)) return
  const { [preset.id]: _, ...others } = presets
  useAstrayState.setState({ presets: astray ? { ...others, [preset.id]: preset.version } : others })
}

/** Of these, those that are still as they were compared. */
export const useAstray = (presets: readonly { id: string; version: number }[]): string[] => {
  const known = useAstrayState((state) => state.presets)
  return presets.filter(({ id, version }) => known[id] === version).map(({ id }) => id)
}
