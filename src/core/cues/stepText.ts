/** A step in a few words, for paper, reports and tables. */
import type { StepDoes } from './show'
import type { CueWorld } from './world'

const GONE = 'something that is gone'
const SWITCH = { cut: 'cut', fade: 'fade', preview: 'preview' } as const

export function stepText(world: CueWorld, does: StepDoes): string {
  const camera = (id: string | null) => (id === null ? null : world.camera(id))
  const named = (id: string | null) => {
    const one = camera(id)
    return one ? `${one.number} ${one.name}` : GONE
  }
  switch (does.t) {
    case 'recall': {
      const preset = world.preset(does.preset)
      const pace = does.pace?.kind === 'timed' ? ` in ${does.pace.seconds} s` : ''
      return preset ? `${named(preset.cameraId)} to ${preset.name}${pace}` : GONE
    }
    case 'replay':
      return `recorded move ${world.move(does.move)?.name ?? GONE} at ${does.percent} %`
    case 'tour':
      return `tour ${world.tour(does.tour)?.name ?? GONE}`
    case 'arrive':
      return 'wait for arrival'
    case 'wait':
      return `wait ${does.seconds} s`
    case 'message': {
      const device = world.device(does.device)
      return `${device?.name ?? GONE}: ${device?.messages.find(({ id }) => id === does.message)?.name ?? GONE}`
    }
    case 'switch':
      return does.camera === null ? SWITCH[does.action] : `${SWITCH[does.action]} to ${named(does.camera)}`
    case 'look': {
      const seconds = does.seconds ? ` in ${does.seconds} s` : ''
      return `look ${world.look(does.look)?.name ?? GONE}${seconds}`
    }
    case 'power':
      return `${named(does.camera)} ${does.on ? 'on' : 'to standby'}`
    case 'cue':
      return `start cue ${world.cue(does.cue)?.name ?? GONE}`
  }
}
