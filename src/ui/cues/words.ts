/** Steps in words, and the lane in which each is drawn. */
import type { Step, StepDoes, Tour } from '../../core/cues/show'
import { paceText } from '../../core/presets/pace'
import type { DeskView } from '../../server/api'

export interface StepWords {
  title: string
  detail: string
  /** `camera ...`, `device ...`, `switcher` or `other`. */
  lane: string
}

const SWITCH = { cut: 'Cut', fade: 'Fade', preview: 'Preview' } as const
const times = (n: number) => (n === 0 ? 'until stopped' : n === 1 ? '' : `${n} times`)

export function stepWords(desk: DeskView, does: StepDoes): StepWords {
  const camera = (id: string | null) => desk.cameras.find((c) => c.id === id)
  const { show } = desk
  switch (does.t) {
    case 'recall': {
      const preset = desk.presets.find(({ id }) => id === does.preset)
      const pace = paceText(does.pace ?? preset?.pace ?? camera(preset?.cameraId ?? null)?.pace ?? null)
      return {
        title: preset?.name ?? 'Preset that is gone',
        detail: [pace || 'quick', does.together ? 'arrives with the others' : ''].filter(Boolean).join(', '),
        lane: preset ? `camera ${preset.cameraId}` : 'other',
      }
    }
    case 'replay': {
      const move = show.moves.find(({ id }) => id === does.move)
      const how = [`recorded, ${does.percent} %`, does.backwards ? 'backwards' : '', times(does.times)]
      return {
        title: move?.name ?? 'Move that is gone',
        detail: how.filter(Boolean).join(', '),
        lane: move ? `camera ${move.camera}` : 'other',
      }
    }
    case 'tour': {
      const tour = show.tours.find(({ id }) => id === does.tour)
      return {
        title: tour?.name ?? 'Tour that is gone',
        detail: tour ? `tour, ${tourWords(tour)}` : '',
        lane: tour ? `camera ${tour.camera}` : 'other',
      }
    }
    case 'look': {
      const look = show.looks.find(({ id }) => id === does.look)
      const seconds = does.seconds ?? look?.fadeSeconds ?? 0
      return {
        title: look?.name ?? 'Look that is gone',
        detail: seconds > 0 ? `look, ${seconds} s` : 'look',
        lane: look?.cameras.length === 1 ? `camera ${look.cameras[0]!.camera}` : 'other',
      }
    }
    case 'arrive':
      return {
        title: 'Wait for arrival',
        detail:
          does.cameras.length === 0
            ? 'of all'
            : `of ${does.cameras.map((id) => camera(id)?.name ?? 'a camera that is gone').join(', ')}`,
        lane: 'other',
      }
    case 'wait':
      return { title: 'Wait', detail: `${does.seconds} s`, lane: 'other' }
    case 'message': {
      const device = desk.devices.find(({ id }) => id === does.device)
      const message = device?.messages.find(({ id }) => id === does.message)
      return {
        title: message?.name ?? 'Message that is gone',
        detail: device?.name ?? '',
        lane: device ? `device ${device.id}` : 'other',
      }
    }
    case 'switch': {
      const to = camera(does.camera)
      const where = to ? ` to ${to.number}` : does.camera === null ? '' : ' to a camera that is gone'
      return { title: `${SWITCH[does.action]}${where}`, detail: to?.name ?? '', lane: 'switcher' }
    }
    case 'power': {
      const of = camera(does.camera)
      return {
        title: does.on ? 'Switch on' : 'To standby',
        detail: of?.name ?? 'a camera that is gone',
        lane: of ? `camera ${of.id}` : 'other',
      }
    }
    case 'cue':
      return {
        title: show.cues.find(({ id }) => id === does.cue)?.name ?? 'Cue that is gone',
        detail: 'starts this cue',
        lane: 'other',
      }
  }
}

export const tourWords = ({ stops, rounds, shuffled }: Tour): string =>
  [
    `${stops.length} ${stops.length === 1 ? 'preset' : 'presets'}`,
    shuffled ? 'shuffled' : '',
    times(rounds) || 'once',
  ]
    .filter(Boolean)
    .join(', ')

export const secondsText = (s: number): string => `${(Math.round(s * 10) / 10).toFixed(1)} s`

export function startWords(desk: DeskView, steps: readonly Step[], { start }: Step): string {
  if (start.kind === 'at') return `at ${secondsText(start.seconds)}`
  const before = steps.find(({ id }) => id === start.step)
  const name = before ? stepWords(desk, before.does).title : 'a step that is gone'
  return start.seconds === 0 ? `after “${name}”` : `${secondsText(start.seconds)} after “${name}”`
}

export const laneName = (desk: DeskView, lane: string): string => {
  const [kind, id] = lane.split(' ')
  if (kind === 'camera') {
    const camera = desk.cameras.find((c) => c.id === id)
    return camera ? `${camera.number} ${camera.name}` : 'Camera'
  }
  if (kind === 'device') return desk.devices.find((d) => d.id === id)?.name ?? 'Device'
  return kind === 'switcher' ? 'Switcher' : 'Other'
}
