/**
 * The body of the rig: a made-up lens motor and sensor that take plain HTTP commands with a basic login.
 * Its command set ships as demo/wharf-lens.json.
 */
import { createServer, type IncomingMessage, type Server } from 'node:http'
import type { Head } from '../body/head'
import type { ControlPort } from './controlPort'
import { type Faults, NO_FAULTS } from './faults'
import { LensAnswers } from './lensAnswers'

export interface LensLogin {
  user: string
  password: string
}

export class LensBody implements ControlPort {
  private readonly server: Server
  private readonly answers: LensAnswers
  private faults: Faults = NO_FAULTS

  constructor(
    head: Head,
    private readonly host: string,
    private readonly port: number,
    private readonly login: LensLogin,
    private readonly answerMs: number,
  ) {
    this.answers = new LensAnswers(head)
    this.server = createServer((request, response) => {
      if (this.faults.mute) return
      const [status, text] = this.answer(request)
      const headers: Record<string, string> = { 'content-type': 'text/plain' }
      if (status === 401) headers['www-authenticate'] = 'Basic realm="lens"'
      setTimeout(
        () => response.writeHead(status, headers).end(`${text}\n`),
        this.answerMs + this.faults.delayMs,
      )
    })
  }

  listen(): Promise<void> {
    return new Promise((resolve, reject) => {
      this.server.once('error', reject)
      this.server.listen(this.port, this.host, () => {
        this.server.off('error', reject)
        resolve()
      })
    })
  }

  setFaults(faults: Faults): void {
    this.faults = faults
  }

  reboot(): void {
    this.server.closeAllConnections()
  }

  close(): void {
    this.server.close()
    this.server.closeAllConnections()
  }

  private answer(request: IncomingMessage): [number, string] {
    const { user, password } = this.login
    const expected = `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}`
    if (request.headers.authorization !== expected) return [401, 'login needed']
    return this.answers.answer(new URL(request.url ?? '/', 'http://lens'), performance.now())
  }
}
