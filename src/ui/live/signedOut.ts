/** Whoever is no longer signed in is asked to sign in again; nothing of the page may go on as if they were. */
import { under } from './base'

/** How the server closes the socket of somebody who was signed out. */
export const SIGNED_OUT = 4001

export function signInAgain(): void {
  // Workers have no page to leave.
  if (typeof document !== 'undefined') globalThis.location.assign(under('/enter'))
}

/** A socket that does not open does not say why: perhaps it needs a sign-in. */
export async function signedOutPerhaps(): Promise<void> {
  const answer = await fetch(under('/api/me')).catch(() => null)
  if (answer?.status === 401) signInAgain()
}
