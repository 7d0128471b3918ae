/** A stand-in's ONVIF services on one HTTP port: device, media, PTZ, imaging. */
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { Head } from '../body/head'
import type { ControlPort } from '../protocol/controlPort'
import type { Faults } from '../protocol/faults'
import type { OnvifActions } from './actions'
import type { OnvifOptions } from './deviceAnswers'
import { OnvifAnswers } from './onvifAnswers'

const MAX_BODY = 100_000

export class OnvifServer implements ControlPort {
  private readonly server: Server
  private readonly answers: OnvifAnswers

  constructor(
    private readonly options: OnvifOptions,
    head: Head,
    actions: OnvifActions,
    private readonly answerMs: number,
  ) {
    this.answers = new OnvifAnswers(options, head, actions)
    this.server = createServer((request, response) => void this.serve(request, response))
  }

  listen(): Promise<void> {
    return new Promise((resolve, reject) => {
      this.server.once('error', reject)
      this.server.listen(this.options.port, this.options.host, () => {
        this.server.off('error', reject)
        resolve()
      })
    })
  }

  setFaults(faults: Faults): void {
    this.answers.faults = faults
  }

  reboot(): void {
    this.server.closeAllConnections()
  }

  close(): void {
    this.server.close()
    this.server.closeAllConnections()
  }

  private async serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const { faults } = this.answers
    if (faults.mute) return
    let text = ''
    for await (const piece of request) {
      text += piece
      if (text.length > MAX_BODY) return void request.destroy()
    }
    await new Promise((resolve) => setTimeout(resolve, this.answerMs + faults.delayMs))
    const [status, xml] = this.answers.answer(new URL(request.url ?? '/', 'http://x').pathname, text)
    response.writeHead(status, { 'content-type': 'application/soap+xml; charset=utf-8' }).end(xml)
  }
}
