import { connect } from 'node:net'

/** Whether a process takes connections at an origin. */
export function isListening(origin: string): Promise<boolean> {
  const { hostname, port } = new URL(origin)
  return new Promise((told) => {
    const socket = connect(Number(port), hostname)
    socket.once('connect', () => told(true)).once('error', () => told(false))
    socket.once('connect', () => socket.destroy())
  })
}
