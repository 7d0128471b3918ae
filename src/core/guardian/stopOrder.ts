/**
 * What stops a device without the server: addresses and ready-made packets, given to the guardian before
 * the device is set in motion. Types only, so that the guardian carries no code of the server's.
 */

/** One packet, and how its answer looks. */
export interface StopPacket {
  /** The bytes as hex digits, two for each. */
  hex: string
  /**
   * A regular expression over the hex digits of what comes back; null if nothing ever does. Packets
   * with the same expression are told apart by number: so many answers must come.
   */
  answered: string | null
}

export interface StopLogin {
  user: string
  password: string
  /** It may be sent without encryption. */
  openly: boolean
  /** SHA-256 of the certificate that the device showed before; null where it has none. */
  certificate: string | null
}

export interface StopRequest {
  url: string
  method: 'GET' | 'POST' | 'PUT'
  body: string | null
  contentType: string
}

/** `gapMs`: the least time between two packets. */
export type StopOrder =
  | { over: 'udp'; host: string; port: number; packets: StopPacket[]; gapMs: number }
  | { over: 'tcp'; host: string; port: number; packets: StopPacket[]; gapMs: number }
  | { over: 'serial'; path: string; baud: number; format: string; packets: StopPacket[]; gapMs: number }
  /** Every group is sent; each try takes another request of the group, so that none is ever sent twice. */
  | { over: 'http'; groups: StopRequest[][]; login: StopLogin | null }

/** A moving thing: a camera, or one part of a rig. */
export interface Movable {
  /** One for each device. */
  key: string
  camera: string
  /** As shown to the operator. */
  name: string
  stops: StopOrder[]
}
