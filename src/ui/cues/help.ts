import type { HelpPage } from '../help/page'

export const CUES_HELP: HelpPage = {
  title: 'Cues',
  about:
    'The running order of the event: each cue is a set of steps that start together or one after another. What comes next is marked, and what runs shows how far it is.',
  controls: [
    { name: 'Go', does: 'starts the cue that is next, and marks the one after it.' },
    { name: 'Hold', does: 'stops the order from going on by itself. What runs goes on.' },
    { name: 'Stop all', does: 'ends all that runs and stops every camera softly.' },
    { name: 'A cue', does: 'touch it to see and change its steps; Next jumps there.' },
    { name: 'Lanes', does: 'show each camera’s moves as hills over time. Drag a step to another time.' },
    { name: 'Record', does: 'keeps a move as you drive it, to play again at any speed.' },
    { name: 'Tours', does: 'send one camera from preset to preset by itself, until somebody takes it.' },
    { name: 'Board', does: 'large keys for cues, looks and messages that you need at any time.' },
    { name: 'Undo', does: 'takes the last change of the order back.' },
  ],
  wrong: [
    {
      what: 'A step was left out.',
      instead: 'Its camera was on air, or somebody drove it. The cue says so beside the step, and goes on.',
    },
    {
      what: 'Two steps move one camera at once.',
      instead: 'The check above the order names them. Let the second start after the first.',
    },
    {
      what: 'Go did the wrong cue.',
      instead: 'Look at the mark before you press. Next moves it without starting anything.',
    },
  ],
}
