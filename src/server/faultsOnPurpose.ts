/** Ways to fail, for the tests of what happens then. Only if HERON_FAULTS is 1. */

type Fault = 'throw' | 'block' | 'heap'

const BLOCK_MS = 10_000

function commit(fault: Fault): void {
  switch (fault) {
    case 'throw':
      setTimeout(() => {
        throw new Error('thrown on purpose')
      })
      return
    case 'block': {
      const end = Date.now() + BLOCK_MS
      while (Date.now() < end);
      return
    }
    case 'heap': {
      const held: unknown[] = []
      // Strings of their own, so that the heap and not only the address space is used up.
      for (;;) held.push(Array.from({ length: 1000 }, () => ({ text: Math.random().toString(36) })))
    }
  }
}

export function listenForFaults(): void {
  process.on('message', (message: { fault?: Fault }) => {
    if (message.fault) commit(message.fault)
  })
}
