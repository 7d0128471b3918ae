import type { HelpPage } from '../help/page'

export const HELPER_HELP: HelpPage = {
  title: 'Helper’s desk',
  about:
    'The presets and cues that somebody chose for you, and perhaps one camera’s pad. Whatever you touch here, you cannot change or lose anything.',
  controls: [
    {
      name: 'A picture',
      does: 'sends its camera there. The bar shows how far it is; “here” means that it has arrived.',
    },
    { name: 'A key below the pictures', does: 'starts a cue.' },
    { name: 'Pad and zoom', does: 'move your camera while you hold them. Let go and it stops.' },
    { name: 'Lock', does: 'fills the screen. Hold the key for some seconds to leave it.' },
  ],
  wrong: [
    {
      what: 'A picture has a red frame and says on air.',
      instead: 'The audience sees this camera. Ask before you touch it; the desk may refuse it.',
    },
    {
      what: 'Nothing happens.',
      instead: 'A line at the bottom says why. Often somebody else drives that camera: wait for them.',
    },
    {
      what: 'The page says that it has no connection.',
      instead: 'Stay where you are: it comes back by itself. Nothing moves meanwhile.',
    },
  ],
}
