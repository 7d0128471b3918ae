/** Asks a camera on a serial chain, on a line that may be in use by others of the same chain. */

import type { SingleConnection } from '../../core/cameras/kinds'
import { deviceWords, type Version } from '../../core/heads/version'
import type { SessionEvent } from '../../core/visca/sessionTypes'
import type { SerialLines } from '../cameras/visca/serialLine'
import { type Success, Trouble } from './outcome'
import { STANDBY_REMARK } from './tryVisca'

const ANSWER_WITHIN_MS = 4000

export async function trySerial(
  lines: SerialLines,
  connection: SingleConnection & { kind: 'visca-serial' },
  /** A driver of ours talks to it already. */
  own: boolean,
): Promise<Success> {
  const open = lines.settingsOf(connection.path)
  const wanted = `${connection.baud} ${connection.format}`
  if (open && open !== wanted) {
    throw new Trouble(
      'chain',
      `This port is open with ${open}. All cameras on one line have the same speed and format.`,
    )
  }
  if (own) {
    const session = lines.line(connection).session(connection.address)
    const ok = session?.state === 'ready'
    if (!ok)
      throw new Trouble(
        'no-answer',
        'The camera does not answer on this line. Its state in the list says more.',
      )
    return { device: null, roundTripMs: session.stats.roundTripMs, remarks: [], pictures: [] }
  }
  const port = lines.join(connection, connection.address)
  try {
    return await ask(port)
  } finally {
    port.close()
  }
}

function ask(port: ReturnType<SerialLines['join']>): Promise<Success> {
  const { session } = port
  return new Promise((resolve, reject) => {
    let trouble: string | null = null
    let on: boolean | null = null
    let version: Version | null = null
    let told = 0
    const deadline = setTimeout(() => {
      if (session.state === 'ready') return resolve(success())
      reject(
        new Trouble(
          trouble === null ? 'no-answer' : /port/.test(trouble) ? 'port-missing' : 'chain',
          trouble ?? 'No camera answers on this line. Check the cable, the power, and the speed of the line.',
        ),
      )
    }, ANSWER_WITHIN_MS)
    const success = (): Success => ({
      device: version && deviceWords(version),
      version,
      roundTripMs: session.stats.roundTripMs,
      remarks: on === false ? [STANDBY_REMARK] : [],
      pictures: [],
    })
    const take = (event: SessionEvent) => {
      if (event.type === 'state' && event.state === 'ready') {
        session.ask('power', performance.now())
        session.ask('version', performance.now())
      } else if (event.type === 'unanswered') told += 1
      else if (event.type === 'answer') {
        told += 1
        if (event.answer.kind === 'power') on = event.answer.on
        if (event.answer.kind === 'version') version = event.answer
      }
    }
    port.onEvents((events) => {
      for (const event of events) take(event)
      if (told >= 2) {
        clearTimeout(deadline)
        resolve(success())
      }
    })
    port.onTrouble((text) => {
      trouble = text
    })
    port.settle()
  })
}
