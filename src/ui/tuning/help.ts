import type { HelpPage } from '../help/page'

export const PICTURE_HELP: HelpPage = {
  title: 'Picture',
  about:
    'The selected camera’s picture settings, read from the camera itself, and instruments that measure its live picture. Nothing here moves a camera, and setting the picture does not take it from whoever drives.',
  controls: [
    {
      name: 'A tape',
      does: 'drag it under its mark. Draw your finger away from it for finer steps; press twice to go back to the usual value.',
    },
    {
      name: 'Exposure, White, Detail, Image',
      does: 'groups of settings. What is grey says which mode would free it.',
    },
    {
      name: 'Several cameras',
      does: 'choose more of them in the strip: they are set to the same, or by as much.',
    },
    {
      name: 'Scopes',
      does: 'waveform, parade, vectorscope and histogram. Clipped, false colour and peaking are drawn on the picture.',
    },
    { name: 'Keep as a look', does: 'saves all settings, to recall whole or in part, at once or faded.' },
    {
      name: 'Match',
      does: 'brings other cameras’ colours to this one’s: touch the same card, wall or shirt in each picture.',
    },
    { name: 'Menu', does: 'opens the camera’s own menu in its picture; the arrows then steer it.' },
    { name: 'Record', does: 'starts and stops recording in the camera, alone or everywhere.' },
  ],
  wrong: [
    {
      what: 'A tape is grey.',
      instead: 'The mode sets it by itself. The line below names the mode that lets you.',
    },
    {
      what: 'Two cameras will not match.',
      instead:
        'Touch something plain that is neither very bright nor very dark, and in the same light in both.',
    },
    {
      what: 'The picture jumps on air.',
      instead: 'Modes cannot be faded. Recall a look before the cut, or only its exposure.',
    },
  ],
}
