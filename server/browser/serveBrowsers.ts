import { timingSafeEqual } from 'node:crypto'
import { createServer, type Server } from 'node:http'
import { browserProgram, launchBrowser } from './launch'

/**
 * Lends browsers to other processes: one for each request, for as long as the request is held open. Its address is the
 * first line of the answer.
 *
 * @param key - what whoever asks must have
 */
export function serveBrowsers(key: string): Server {
  const expected = Buffer.from(`Bearer ${key}`)
  return createServer(async (request, response) => {
    const said = Buffer.from(request.headers.authorization ?? '')
    const program = browserProgram()
    if (said.length !== expected.length || !timingSafeEqual(said, expected)) return response.writeHead(403).end()
    if (!program) return response.writeHead(503).end()
    try {
      const browser = await launchBrowser(program)
      const giveBack = () => void browser.kill().catch(() => {})
      if (response.destroyed) return giveBack()
      response.once('close', giveBack)
      browser.once('close', () => response.end())
      response.writeHead(200, { 'content-type': 'text/plain' }).write(`${browser.wsEndpoint()}\n`)
    } catch (error) {
      console.error(error)
      response.writeHead(500).end()
    }
  })
}
