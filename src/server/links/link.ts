/** A way to a camera: bytes in, bytes out. */
export interface Link {
  send(bytes: Uint8Array): void
  /** `elsewhere`: it came from another port than was asked. */
  onReceive(listener: (bytes: Uint8Array, elsewhere?: boolean) => void): void
  /** Something that keeps bytes from going out, in words for the operator; null when it is over. */
  onTrouble(listener: (trouble: string | null) => void): void
  /** A connection was made (again): what was under way on a former one is lost. */
  onOpen(listener: () => void): void
  /** The camera has been silent for long: a connection that only seems to be there is recreated. */
  renew(): void
  close(): void
}
