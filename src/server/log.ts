/**
 * The server's log, without passwords: JSON lines on the standard error output and, once the data folder is
 * known, in a file that is rotated.
 */
import { join } from 'node:path'
import pino from 'pino'
import { createStream } from 'rotating-file-stream'

const FILE_SIZE = '5M'
const FILES_KEPT = 5

// Synchronous: the last lines before a crash are the ones that matter.
const outputs = pino.multistream([{ level: 'trace', stream: pino.destination({ dest: 2, sync: true }) }])

/** What was to be stored when a query failed, as a password's hash, is not for the log. */
export function withoutParams(error: unknown): unknown {
  if (!(error instanceof Error)) return error
  const { params: _, ...rest } = pino.stdSerializers.err(error) as unknown as Record<string, unknown>
  const cut = (text: unknown) =>
    typeof text === 'string' ? text.replace(/\nparams: [\s\S]*?(?=\n {4}at |$)/g, '') : text
  return { ...rest, message: cut(rest.message), stack: cut(rest.stack) }
}

export const log = pino(
  {
    level: process.env.HERON_LOG ?? 'warn',
    base: null,
    timestamp: pino.stdTimeFunctions.isoTime,
    serializers: { err: withoutParams },
    redact: {
      paths: ['*.password', '*.authorization', '*.cookie', '*.secrets', 'password', 'secrets', 'url'],
      censor: '…',
    },
  },
  outputs,
)

/** @param folder the data folder: the log goes to logs/server.log in it */
export function logInto(folder: string): void {
  const file = createStream('server.log', {
    path: join(folder, 'logs'),
    size: FILE_SIZE,
    maxFiles: FILES_KEPT,
    compress: 'gzip',
  })
  // A full disk must not end the server; the standard error output says it all too.
  file.on('error', () => {})
  outputs.add({ level: 'trace', stream: file })
}
