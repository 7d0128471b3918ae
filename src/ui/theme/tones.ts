/** Dusk over a marsh: the colours, typefaces and sizes of the whole interface. */
export const TONES = {
  ink: '#0C1315',
  marsh: '#131D20',
  reed: '#1B282C',
  line: '#2F4046',
  sand: '#EDE6D6',
  mist: '#9DB0B2',
  heron: '#86B9D0',
  heronFilled: '#24414F',
  air: '#E5484D',
  preview: '#3FA873',
  clay: '#D8A25E',
} as const

export const FACES = { regular: 'Atkinson', semiBold: 'Atkinson SemiBold', bold: 'Atkinson Bold' } as const

export const RADIUS = { small: 6, middle: 10, large: 14 } as const

/** Smallest size of anything to be touched. */
export const TOUCH = 44

/** From this width the Desk has its cameras and presets beside the picture. */
export const WIDE_FROM = 1000
