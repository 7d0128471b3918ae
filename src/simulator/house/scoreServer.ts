/**
 * The stand-in scoreboard: HTTP. GET /state; POST /score?team=Curlews&points=48&key=..., POST /title?text=...&key=...
 * It takes nothing without its key.
 */
import { createServer, type Server } from 'node:http'
import type { BarnHouse } from './house'

export const SCORE_PORT = 8075
export const SCORE_KEY = 'reedbed-5'

export class ScoreServer {
  private readonly http: Server

  constructor(
    private readonly host: string,
    house: BarnHouse,
  ) {
    this.http = createServer((request, response) => {
      const url = new URL(request.url ?? '/', 'http://scoreboard')
      const given = (name: string) => url.searchParams.get(name) ?? ''
      const say = (status: number, body: unknown) =>
        response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body))
      const state = () => ({ title: house.title, scores: Object.fromEntries(house.scores) })
      request.resume()
      if (request.method === 'GET' && url.pathname === '/state') return say(200, state())
      if (request.method !== 'POST') return say(404, { error: 'no such page' })
      if (given('key') !== SCORE_KEY) return say(403, { error: 'the key is not right' })
      if (url.pathname === '/title') house.entitle(given('text'))
      else if (url.pathname !== '/score') return say(404, { error: 'no such page' })
      else if (!house.score(given('team'), Number(given('points'))))
        return say(400, { error: 'no such team, or no points' })
      return say(200, state())
    })
  }

  listen(): Promise<void> {
    return new Promise((resolve, reject) => {
      this.http.once('error', reject)
      this.http.listen(SCORE_PORT, this.host, resolve)
    })
  }

  close(): void {
    this.http.close()
    this.http.closeAllConnections()
  }
}
