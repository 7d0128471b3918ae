import type { HelpPage } from '../help/page'

export const PRESETS_HELP: HelpPage = {
  title: 'Presets',
  about:
    'Presets alone, for a second screen or a phone. Each tile shows what was stored and tells the truth about its camera: travelling with the time left, here, moved off, or not reached.',
  controls: [
    { name: 'A camera in the strip', does: 'shows its presets.' },
    { name: 'A tile', does: 'recalls the preset. Hold it to change it.' },
    { name: 'Pinned', does: 'presets of any camera on one board.' },
    { name: 'Find', does: 'a few letters of a name, a heading, or a number.' },
    { name: 'Digits and Enter', does: 'recall by number on a keyboard.' },
    { name: 'The empty tile', does: 'stores where the camera stands as a new preset.' },
  ],
  wrong: [
    {
      what: 'Nobody remembers what preset 7 was.',
      instead:
        'Name it, and give it a heading: hold the tile. “Retake all pictures” renews what the tiles show.',
    },
    {
      what: 'The tile’s picture is not what the camera shows.',
      instead: 'The room has changed since it was stored. Renew the picture; the position stays.',
    },
    {
      what: 'A helper finds this page too full.',
      instead: 'Make a helper’s desk in Setup, People, with the few presets that they need.',
    },
  ],
}
