import { createServer } from 'node:net'

/** Whether nothing listens on a port of the loopback address. */
export function isPortFree(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const server = createServer()
    server.once('error', () => resolve(false))
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)))
  })
}

/** Below those that systems give to outgoing connections: one of these would be taken again before it is used. */
const LOWEST = 18_000
const HIGHEST = 32_000
const TRIES = 100

/** A port of the loopback address that nothing listens on. */
export async function freePort(): Promise<number> {
  for (let times = 0; times < TRIES; times++) {
    const port = LOWEST + Math.floor(Math.random() * (HIGHEST - LOWEST))
    if (await isPortFree(port)) return port
  }
  throw new Error('No port of the loopback address is free.')
}
