/** Why a device did not do what was asked, in one shape for all protocols. */
export type DeviceFaultKind =
  /** No answer: it may or may not have acted. */
  | 'network'
  | 'login'
  | 'clock'
  | 'refused'
  | 'not-supported'
  /** It takes a password only in the open, and nobody has agreed to that. */
  | 'open-password'
  /** It shows another certificate than before. */
  | 'certificate'
  /** Something answers, but not in this protocol. */
  | 'nonsense'

export class DeviceFault extends Error {
  constructor(
    readonly kind: DeviceFaultKind,
    message: string,
    /** The system's error code, where there is one. */
    readonly code: string | null = null,
  ) {
    super(message)
  }
}
