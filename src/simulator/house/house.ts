/** What other devices change in the barn: its lights, and what the scoreboard shows. */
import { TEAMS } from '../scene/cast'
import type { House } from '../scene/house'

const LIGHTS = ['hall', 'stage'] as const
export type Light = (typeof LIGHTS)[number]
export const isLight = (name: string): name is Light => (LIGHTS as readonly string[]).includes(name)
const LONGEST_FADE_S = 60
const LONGEST_TITLE = 24

interface Fade {
  from: number
  to: number
  startMs: number
  forMs: number
}

export class BarnHouse {
  private readonly lights: Record<Light, Fade>
  readonly scores = new Map(TEAMS.map(({ name, score }) => [name, score]))
  title = 'Fenland Quiz Final'

  constructor(private readonly now: () => number) {
    const full = () => ({ from: 1, to: 1, startMs: 0, forMs: 1 })
    this.lights = { hall: full(), stage: full() }
  }

  get state(): House {
    return {
      hall: this.level('hall'),
      stage: this.level('stage'),
      title: this.title,
      scores: [...this.scores.values()],
    }
  }

  level(light: Light): number {
    const { from, to, startMs, forMs } = this.lights[light]
    const share = Math.min(1, Math.max(0, (this.now() - startMs) / forMs))
    return from + (to - from) * share
  }

  /** @param level 0..1 @param seconds how long it takes */
  dim(light: Light, level: number, seconds: number): void {
    const forMs = Math.max(1, Math.min(LONGEST_FADE_S, seconds) * 1000)
    const to = Math.min(1, Math.max(0, level))
    this.lights[light] = { from: this.level(light), to, startMs: this.now(), forMs }
  }

  /** @returns false if there is no such team */
  score(team: string, points: number): boolean {
    if (!this.scores.has(team) || !Number.isInteger(points) || Math.abs(points) > 9999) return false
    this.scores.set(team, points)
    return true
  }

  entitle(text: string): void {
    this.title = text.slice(0, LONGEST_TITLE)
  }
}
