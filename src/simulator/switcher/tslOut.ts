/** The bytes that the stand-in switcher sends: TSL UMD 3.1 and 5.0, written from their published layouts. */

export interface Display {
  number: number
  label: string
  program: boolean
  preview: boolean
}

/** One display in 18 bytes: tally 1 is preview, tally 2 is program, full brightness. */
export function umd31({ number, label, program, preview }: Display): Buffer {
  const control = (preview ? 0x01 : 0) | (program ? 0x02 : 0) | 0x30
  const text = label
    .replace(/[^ -~]/g, '?')
    .slice(0, 16)
    .padEnd(16)
  return Buffer.concat([Buffer.of(0x80 + number, control), Buffer.from(text, 'ascii')])
}

/** All displays in one packet, with all three lamps red or green. */
export function umd5(displays: readonly Display[]): Buffer {
  const parts = displays.map(({ number, label, program, preview }) => {
    const text = Buffer.from(label, 'ascii')
    const head = Buffer.alloc(6)
    const colour = program ? 1 : preview ? 2 : 0
    head.writeUInt16LE(number, 0)
    head.writeUInt16LE(colour | (colour << 2) | (colour << 4) | (3 << 6), 2)
    head.writeUInt16LE(text.length, 4)
    return Buffer.concat([head, text])
  })
  const body = Buffer.concat([Buffer.of(0, 0, 0, 0), ...parts])
  const length = Buffer.alloc(2)
  length.writeUInt16LE(body.length)
  return Buffer.concat([length, body])
}

/** For a connection: FE 02 before a packet, and each FE in it twice. */
export function wrapped(packet: Buffer): Buffer {
  return Buffer.from([0xfe, 0x02, ...[...packet].flatMap((byte) => (byte === 0xfe ? [byte, byte] : [byte]))])
}
