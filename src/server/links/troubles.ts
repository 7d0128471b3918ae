/** What the operator is told when the network refuses, by the system's error code. */
const NO_ROUTE =
  'There is no route to this address. Check the network cable, and that the address belongs to this network.'
const NOT_HERE = 'This address cannot be reached from here. Check the address.'

const TROUBLES: Record<string, string> = {
  ENETUNREACH: NO_ROUTE,
  EHOSTUNREACH: NO_ROUTE,
  EHOSTDOWN: NO_ROUTE,
  EACCES: NOT_HERE,
  EINVAL: NOT_HERE,
  EADDRNOTAVAIL: NOT_HERE,
  ECONNREFUSED:
    'Nothing listens on this port there. Check the port, and that control over IP is switched on in the camera.',
  ECONNRESET: 'The camera closed the connection. It may allow one controller only: end the other one.',
  EPIPE: 'The camera closed the connection. It may allow one controller only: end the other one.',
  ETIMEDOUT: 'The camera does not answer on this port. Check that it is on, its cable, and its address.',
}

export const NOT_KNOWN = (host: string) =>
  `The name "${host}" is not known on this network. Check its spelling, or enter the address in digits.`

export function troubleText(error: { code?: string; message: string }): string {
  return TROUBLES[error.code ?? ''] ?? (error.message || 'The network refuses this.')
}
