import { hostname } from 'node:os'
import { monitorEventLoopDelay } from 'node:perf_hooks'
import { eq, sql } from 'drizzle-orm'
import type { Database } from '../database/connect'
import { isDatabaseAway, isDiskFull } from '../database/isDatabaseAway'
import { runningProcess } from '../database/schema'
import type { ProcessRole } from './roles'

/** Milliseconds between two words of a process. */
const EVERY = Number(process.env.VETCH_BEAT_EVERY ?? 5000)
/** How finely the delay is measured, in ms: a timer that is due so often is late by what its loop is late. */
const RESOLUTION = 20
const NANOSECONDS = 1e6

/** What goes on in this process, for whoever asks after its health. */
export interface Beat {
  /** Notes how long a piece of work has taken, in ms. */
  noteWork: (milliseconds: number) => void
  /** Says good-bye: the process ends on purpose. */
  end: () => Promise<void>
}

/** Says every few seconds that this process is there, and how late its event loop is. */
export function keepBeating(database: Database, role: ProcessRole): Beat {
  const name = `${role} ${hostname()} ${process.pid}`
  const startedAt = new Date()
  const loop = monitorEventLoopDelay({ resolution: RESOLUTION })
  loop.enable()
  let work: number | null = null

  async function beat(): Promise<void> {
    const delay = Math.max(0, loop.percentile(99) / NANOSECONDS - RESOLUTION)
    const now = { seenAt: sql`now()`, delay, work }
    loop.reset()
    work = null
    await database
      .insert(runningProcess)
      .values({ name, role, startedAt, ...now })
      .onConflictDoUpdate({ target: runningProcess.name, set: now })
  }

  let isFull = false
  const report = (error: unknown) => {
    if (isDiskFull(error) && !isFull)
      console.error('The disk that holds the database is full. Free some space; what was acknowledged is safe.')
    isFull = isDiskFull(error)
    if (!isDatabaseAway(error)) console.error(error)
  }
  const timer = setInterval(() => void beat().catch(report), EVERY)
  timer.unref()
  void beat().catch(report)
  return {
    noteWork: (milliseconds) => {
      work = Math.max(work ?? 0, milliseconds)
    },
    end: async () => {
      clearInterval(timer)
      loop.disable()
      await database.delete(runningProcess).where(eq(runningProcess.name, name)).catch(report)
    },
  }
}
