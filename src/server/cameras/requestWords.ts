/** What the operator is told of a camera that is reached by requests and answers. */
import type { RequestWords } from './requestHealth'

export const REQUEST_WORDS = (address: string): RequestWords => ({
  connecting: `No answer from ${address} yet. Check that the camera is on, the cable is in, and the address and port are right.`,
  silent: 'The camera stopped answering. Check its power and its cable; it reconnects by itself.',
  slow: 'The camera answers late or not every time. Check the cable, the switch, or a busy wireless link.',
  standby: 'The camera is in standby. Switch it on.',
})
