/** The certificates that devices showed at the first contact. */
import { DeviceFault } from '../cameras/deviceFault'
import { originOf, PinnedAgent } from './pinned'

export interface Certificate {
  /** "host:port" */
  origin: string
  /** SHA-256, "AB:CD:…" */
  fingerprint: string
}

const pinned = new Map<string, string>()
let keep: (certificate: Certificate) => void = () => {}

/** @param keeper is told each one that is pinned */
export function pinnedCertificates(known: readonly Certificate[], keeper: typeof keep): void {
  for (const { origin, fingerprint } of known) pinned.set(origin, fingerprint)
  keep = keeper
}

/** Null if it was never reached over HTTPS. */
export const certificateOf = (host: string, port: number): string | null =>
  pinned.get(originOf(host, port)) ?? null

/** The next that it shows is taken for its own. @returns false if none was pinned */
export const forgetCertificate = (origin: string): boolean => pinned.delete(origin.toLowerCase())

/** As it is read aloud: the first eight bytes tell two apart. */
export const certificateWords = (fingerprint: string): string => fingerprint.split(':').slice(0, 8).join(' ')

function judge(origin: string, fingerprint: string): Error | null {
  const before = pinned.get(origin)
  if (before === fingerprint) return null
  if (before !== undefined)
    return new DeviceFault(
      'certificate',
      `What answers at ${origin} shows another certificate than before (${certificateWords(fingerprint)} instead of ${certificateWords(before)}), so no login was sent. If the camera was replaced or reset, press “Try” in its settings and trust the new one.`,
    )
  pinned.set(origin, fingerprint)
  keep({ origin, fingerprint })
  return null
}

/** For single requests. */
export const PINNED = new PinnedAgent(judge)
/** For many to one device. */
export const pinnedAgent = () => new PinnedAgent(judge, { keepAlive: true, maxSockets: 4 })
