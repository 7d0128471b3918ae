import type { HelpPage } from '../help/page'

export const SIGHTLINES_HELP: HelpPage = {
  title: 'Sightlines',
  about:
    'One picture of everything that the selected camera can reach, taken by the camera itself. The frame in sand is what it sees now; each blue frame is what it sees at a preset, bent as the lens bends it.',
  controls: [
    {
      name: 'Survey, Survey again',
      does: 'lets the camera photograph all within its limits, off air, in one to two minutes. Only a part: draw a box round what has changed, and only that is taken again.',
    },
    { name: 'Drag, wheel, two fingers', does: 'look around on the picture, closer and farther away.' },
    { name: 'Aim', does: 'touch a place: the camera turns there, at this zoom.' },
    { name: 'Frame', does: 'draw a box: the camera fills its picture with it.' },
    {
      name: 'Store from a box',
      does: 'makes a preset of a box without moving the camera. Its picture is cut out of the survey.',
    },
    { name: 'A preset’s name', does: 'recalls it. A dashed line shows where the camera is going.' },
    {
      name: 'Change frames',
      does: 'touch a preset’s name, then drag the middle of its frame or its corner, or use the arrow keys, plus and minus. The camera does not move.',
    },
    {
      name: 'Seat grid',
      does: 'touch the four corner seats of a block and say how its rows are called: every seat becomes a preset, under one heading. A block that is made is chosen again under Block: move a corner, and all its presets follow.',
    },
    {
      name: 'Was it bumped? (in Survey again)',
      does: 'the camera looks again at what it photographed, tells how far its mount was turned, and mends presets, limits, survey, grids and points of the room at once.',
    },
    {
      name: 'The room',
      does: 'Points: touch the same things in several cameras, or aim at them, and the desk computes where the cameras stand. Plan: touch a place to see who can show it, from which side and how large, and press a camera to turn it there. A picture of the hall can be laid under the plan, or take presets by itself.',
    },
    {
      name: 'Also seen by',
      does: 'after a touch, once the room is known: turns another camera to the same place.',
    },
    { name: 'Pace', does: 'how aim and frame travel: quick, in a set time, or at a steady speed.' },
  ],
  wrong: [
    {
      what: 'People sit elsewhere than in the picture.',
      instead: 'It was taken earlier: the line below says when. Survey again while the camera is off air.',
    },
    {
      what: 'A frame lies beside what the camera shows.',
      instead:
        'Its head profile does not describe it, or it was bumped. See its check in Setup, Cameras, then survey again.',
    },
    {
      what: 'A point of the room is said to lie beside.',
      instead:
        'Something else was touched in that camera. Choose the point and touch it there again, or remove it. Six points or more, spread over the room, tell most.',
    },
    {
      what: 'A drag moves the camera instead of the map.',
      instead: 'Frame and Store draw boxes. Choose Aim to drag the map, or use two fingers.',
    },
  ],
}
