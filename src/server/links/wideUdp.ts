/**
 * UDP sockets that hear a camera whatever port it answers from, and that cameras reach which answer to a fixed
 * port of the controller. One of them serves all cameras of a network: they are told apart by their addresses.
 */
import { createSocket, type Socket } from 'node:dgram'

type Listener = (bytes: Uint8Array, fromPort: number) => void
interface Member {
  address: string
  port: number
  listener: Listener
}

export interface WideUdp {
  send(bytes: Uint8Array, sent: (error: Error | null) => void): void
  close(): void
}

class Shared {
  private readonly members = new Set<Member>()

  constructor(
    readonly socket: Socket,
    private readonly forget: () => void,
  ) {
    socket.on('error', () => {})
    socket.on('message', (bytes, from) => this.receive(bytes, from))
  }

  join(member: Member): WideUdp {
    this.members.add(member)
    return {
      send: (bytes, sent) => this.socket.send(bytes, member.port, member.address, sent),
      close: () => {
        this.members.delete(member)
        if (this.members.size > 0) return
        this.forget()
        this.socket.close()
      },
    }
  }

  /** Two cameras at one address are told apart by their ports, as far as these say anything. */
  private receive(bytes: Uint8Array, { address, port }: { address: string; port: number }): void {
    const here = [...this.members].filter((m) => m.address === address)
    const exact = here.filter((m) => m.port === port)
    for (const member of exact.length > 0 ? exact : here.slice(0, 1)) member.listener(bytes, port)
  }
}

const open = new Map<string, Promise<Shared>>()

function bound(port: number, address: string): Promise<Socket> {
  return new Promise((resolve, reject) => {
    const socket = createSocket('udp4')
    socket.once('error', reject)
    socket.bind(port, address, () => {
      socket.off('error', reject)
      resolve(socket)
    })
  })
}

/** The address of this computer from which a target is reached. */
function localAddress(address: string, port: number): Promise<string> {
  return new Promise((resolve, reject) => {
    const socket = createSocket('udp4')
    socket.once('error', reject)
    socket.connect(port, address, () => {
      const local = socket.address().address
      socket.close()
      resolve(local)
    })
  })
}

async function shared(local: string, fixedPort: number | null): Promise<Shared> {
  const key = `${local} ${fixedPort ?? 'any'}`
  const known = open.get(key)
  if (known) return known
  const forget = () => void open.delete(key)
  // Another program may hold the fixed port: then cameras that answer to it stay unheard.
  const made = bound(fixedPort ?? 0, local)
    .catch(() => bound(0, local))
    .then((socket) => new Shared(socket, forget))
  open.set(key, made)
  made.catch(forget)
  return made
}

/** @param fixedPort of this computer to which some cameras answer; null for none */
export async function joinWideUdp(
  address: string,
  port: number,
  fixedPort: number | null,
  listener: Listener,
): Promise<WideUdp> {
  const local = await localAddress(address, port)
  // On the same computer the port may be the camera's own.
  const all = await shared(local, local === address ? null : fixedPort)
  return all.join({ address, port, listener })
}
