import type { HelpPage } from '../help/page'

export const SETUP_HELP: HelpPage = {
  title: 'Setup',
  about:
    'What belongs to the venue and the people: cameras and how they are reached, controls, tally, who may come in, the log, programs, venues and events with their backups.',
  controls: [
    {
      name: 'Cameras',
      does: 'finds, adds, tries and changes cameras. Each line says how its link is and what to mend.',
    },
    {
      name: 'A camera, Learn the head',
      does: 'the camera measures its own head and lens in four to five minutes, off air. Look at what it learnt, then use it.',
    },
    { name: 'Controls', does: 'your joystick, keys and speeds. They are yours alone.' },
    { name: 'Tally', does: 'where on air and preview come from, and which camera each input is.' },
    {
      name: 'People',
      does: 'owners and operators, invitations that end by themselves, helpers’ desks, and who is signed in.',
    },
    { name: 'Log', does: 'who did what, and what was refused and why. Export it as CSV.' },
    { name: 'Remote', does: 'keys for programs and button boxes, and OSC.' },
    {
      name: 'Venues',
      does: 'venues and events, their files, and backups that can be put back after a look.',
    },
    { name: 'Heads, Command sets', does: 'data about heads and protocols of your own.' },
  ],
  wrong: [
    {
      what: 'A camera stays silent.',
      instead: 'Press Try in its sheet: each step says what answered and what to check next.',
    },
    {
      what: 'A phone cannot open the desk.',
      instead: 'Start it with HOST=0.0.0.0, and see that the phone is on the same network.',
    },
    {
      what: 'Aim misses, or timed moves end too late.',
      instead:
        'The head profile does not describe the head. In the camera’s sheet check the head, or let it learn.',
    },
    {
      what: 'Left is right.',
      instead: 'Say how the camera hangs in its sheet. The pad, the keys and Aim then all agree.',
    },
  ],
}
