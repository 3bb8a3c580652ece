import type { ChildProcess } from 'node:child_process'

const FIRST_PAUSE = 500
const LONGEST_PAUSE = 30_000
/** After so long a process is taken to be well, and the next pause is the first again. */
const WELL_AFTER = 60_000

export interface Supervised {
  /** The process as it is now. */
  current: () => ChildProcess
  /** Ends it for good. */
  stop: () => Promise<void>
}

/**
 * Keeps a process running: one that ends by itself, or is killed, is started again after a pause that grows as long as
 * it goes on dying.
 *
 * @param name - what it is called in messages
 * @param start - starts it
 * @param first - one that runs already
 */
export function supervise(name: string, start: () => ChildProcess, first = start()): Supervised {
  let child = first
  let pause = FIRST_PAUSE
  let isStopping = false
  let timer: NodeJS.Timeout | undefined
  watch()

  function watch(): void {
    const startedAt = Date.now()
    child.once('exit', (code, signal) => {
      if (isStopping) return
      if (Date.now() - startedAt > WELL_AFTER) pause = FIRST_PAUSE
      console.error(`${name} ended by itself (${signal ?? `code ${code}`}); starting it again in ${pause / 1000} s.`)
      timer = setTimeout(again, pause)
      pause = Math.min(LONGEST_PAUSE, pause * 2)
    })
  }

  function again(): void {
    child = start()
    watch()
  }

  return {
    current: () => child,
    stop() {
      isStopping = true
      clearTimeout(timer)
      if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve()
      child.kill('SIGTERM')
      const impatient = setTimeout(() => child.kill('SIGKILL'), 8000)
      return new Promise((ended) =>
        child.once('exit', () => {
          clearTimeout(impatient)
          ended()
        }),
      )
    },
  }
}
