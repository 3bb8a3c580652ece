import { createServer } from 'node:net'
import { threadId } from 'node:worker_threads'

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
const TRIES = 1000
/** Apart from where other processes and threads begin: what one has found free, another must not take meanwhile. */
const APART = 101
const FAR_APART = 1009
let given = (process.pid * APART + threadId * FAR_APART) % (HIGHEST - LOWEST)

/** A port of the loopback address that nothing listens on; no two calls get the same one soon. */
export async function freePort(): Promise<number> {
  for (let times = 0; times < TRIES; times++) {
    given = (given + 1) % (HIGHEST - LOWEST)
    const port = LOWEST + given
    if (await isPortFree(port)) return port
  }
  throw new Error('No port of the loopback address is free.')
}
