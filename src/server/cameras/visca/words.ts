/** What the operator is told when a VISCA camera refuses or falls silent. */
import type { FailReason } from '../../../core/visca/sessionTypes'

const REASONS: Record<FailReason, string> = {
  'message-length': 'The camera did not understand the command: its length is not what it expects.',
  syntax: 'The camera does not know this command. Check its head profile.',
  'buffer-full': 'The camera is too busy. Wait a moment and try again.',
  cancelled: 'The command was cancelled at the camera.',
  'no-socket': 'There was nothing to cancel.',
  'not-executable': 'The camera refused this now. It may be in standby, or in a mode that does not allow it.',
  'no-answer': 'The camera did not answer, so it may or may not have acted. Look before you try again.',
  silent: 'The camera does not answer, so nothing was sent. Check its power and its network cable.',
}

export function reasonText(reason: FailReason): string {
  return REASONS[reason]
}

export const CONNECTING = (address: string) =>
  `No answer from ${address} yet. Check that the camera is on, the cable is in, and the address and port are right.`
export const SILENT = 'The camera stopped answering. Check its power and its cable; it reconnects by itself.'
export const STANDBY = 'The camera is in standby. Switch it on.'
export const SLOW = 'The link loses or delays packets. Check the cable, the switch, or a busy wireless link.'
