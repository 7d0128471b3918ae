/** The login with which the guardian stops a device over HTTP. */
import type { StopLogin } from '../../core/guardian/stopOrder'
import { certificateOf } from '../links/certificates'

interface Address {
  host: string
  port: number
  user: string
  password: string
  openly?: boolean | undefined
}

/** Null if the device asks for none. */
export const stopLogin = ({ host, port, user, password, openly }: Address): StopLogin | null =>
  user === '' ? null : { user, password, openly: openly === true, certificate: certificateOf(host, port) }
