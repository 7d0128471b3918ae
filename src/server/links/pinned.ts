/**
 * HTTPS to cameras, which sign their certificates themselves: what tells a camera from somebody in between is that
 * its certificate is the one that it showed at first. It is looked at before a byte is sent.
 */
import { Agent, type AgentOptions } from 'node:https'
import { type ConnectionOptions, connect, type TLSSocket } from 'node:tls'

/** @returns what is wrong with a certificate; null if it may be trusted @param fingerprint SHA-256, "AB:CD:…" */
export type Judge = (origin: string, fingerprint: string) => Error | null

interface Target {
  host?: string
  port?: number | string
}

export const originOf = (host: string, port: number | string): string => `${host.toLowerCase()}:${port}`

export class PinnedAgent extends Agent {
  constructor(
    private readonly judge: Judge,
    options: AgentOptions = {},
  ) {
    super(options)
  }

  override createConnection(
    options: object & Target,
    created?: (error: Error | null, socket: TLSSocket) => void,
  ): undefined {
    const socket = connect({ ...(options as ConnectionOptions), rejectUnauthorized: false })
    let told = false
    const tell = (error: Error | null) => {
      if (told) return
      told = true
      created?.(error, socket)
    }
    socket.once('error', tell)
    socket.once('secureConnect', () => {
      const { fingerprint256 } = socket.getPeerCertificate()
      const wrong = this.judge(originOf(options.host ?? '', options.port ?? 443), fingerprint256 ?? '')
      if (wrong) socket.destroy()
      else socket.off('error', tell)
      tell(wrong)
    })
  }
}
