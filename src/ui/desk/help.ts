import type { HelpPage } from '../help/page'

export const DESK_HELP: HelpPage = {
  title: 'Desk',
  about:
    'The selected camera’s live picture, the controls that drive it, and its presets. Red, with the words on air, is what the audience sees; green, with preview, is what comes next.',
  controls: [
    { name: 'A camera in the strip or rail', does: 'selects it. Hold Shift to drive several together.' },
    {
      name: 'Pad',
      does: 'pans and tilts while you push. Each line is a speed at this zoom. Let go and it stops.',
    },
    { name: 'Zoom strip', does: 'push up to zoom in, down to zoom out; it springs back.' },
    { name: 'Touch the picture', does: 'Aim: the camera brings that point to the middle.' },
    { name: 'Draw a box on the picture', does: 'Frame: the camera fills the picture with it.' },
    {
      name: 'Edge scales',
      does: 'show where the head stands, its limits, and a tick for each preset. Touch a tick to recall it.',
    },
    {
      name: 'A preset’s tile',
      does: 'recalls it. Hold it to rename, to choose its pace, or to see what was stored before.',
    },
    {
      name: 'Store, or drag the picture onto a tile',
      does: 'keeps where the camera stands. Storing over a preset can be undone.',
    },
    { name: 'Pace', does: 'how the next recall travels: quick, in a set time, or at a steady speed.' },
    {
      name: 'Escape, and Z',
      does: 'Escape lets go of everything that you hold; Z stops all cameras softly.',
    },
    { name: 'More', does: 'focus, limits, guides, tools, and the picture settings that you pinned.' },
    {
      name: 'More, Arrange',
      does: 'moves, hides and resizes the blocks of your Desk for a window of this shape. Reset brings the usual one back.',
    },
    {
      name: 'More, Open a second page',
      does: 'for a second screen; its Desk is arranged by itself.',
    },
  ],
  wrong: [
    {
      what: 'A recall on the camera that is on air.',
      instead:
        'The on-air guard makes it gentle or asks. Hold the key it shows only if the audience may see the move.',
    },
    {
      what: 'The pad does nothing.',
      instead:
        'Somebody else drives this camera: the bar says who. Take it over, or wait until two seconds after it has stopped.',
    },
    {
      what: 'A tile says “moved off”.',
      instead: 'The camera has been driven since it arrived. Touch the tile to go back there.',
    },
    {
      what: 'The picture is grey with an age on it.',
      instead: 'It is old, not live. See the camera’s line in Setup, Cameras for what to do.',
    },
  ],
}
