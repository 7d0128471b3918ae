/** The server's log: JSON lines on the standard error output, without passwords. */
import pino from 'pino'

export const log = pino(
  {
    level: process.env.HERON_LOG ?? 'warn',
    base: null,
    timestamp: pino.stdTimeFunctions.isoTime,
    redact: {
      paths: ['*.password', '*.authorization', '*.cookie', '*.secrets', 'password', 'secrets', 'url'],
      censor: '…',
    },
  },
  // At once: what is said last before an end is what is looked for.
  pino.destination({ dest: 2, sync: true }),
)
