/** The oddities of a camera's VISCA, as they were met on its link; each with words for the operator. */
export const QUIRKS = {
  noAcknowledgement: 'It reports commands as completed without acknowledging them first.',
  noAnswerToCommands: 'It never answers a command. What it did is judged by the position that it reports.',
  answersInSocket: 'It answers questions under the number of a socket.',
  otherAddress: 'It answers as another camera than the one that was asked.',
  otherPort: 'It answers from another port, or to a fixed one.',
  resetUnanswered: 'It does not answer when its packet numbers are reset.',
  resetMisnumbered: 'It answers the reset of its packet numbers under another number.',
  unnumbered: 'Its answers carry numbers of their own, so they are matched by their order.',
  losesCount: 'It loses count of its packet numbers, which are then reset.',
  joinedPackets: 'It sends several answers in one packet.',
  ignoresQuestions: 'It leaves some questions without any answer.',
  refusesQuestions: 'It does not know some of the questions.',
  slowIntake: 'It drops packets that follow each other quickly, so fewer are sent.',
  widePositions: 'It writes its positions with more digits than usual.',
  busySockets: 'Its sockets were busy when a stop came, so what ran in them was cancelled.',
  fixedAddresses: 'The cameras on this line have fixed addresses.',
} as const
export type Quirk = keyof typeof QUIRKS

export const quirkWords = (quirks: Iterable<Quirk>): string[] => [...quirks].map((quirk) => QUIRKS[quirk])
