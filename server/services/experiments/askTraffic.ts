import { databaseThreads } from '../databaseThreads'
import { HttpProblem } from '../HttpProblem'
import { valueOf, type ThreadReply } from '../threadReply'
import type { TrafficAnswer, TrafficCall, TrafficQuestion } from './trafficQuestions'

/** A question that takes longer is given up, and its thread ended. */
const LONGEST = 30_000
const MOST_THREADS = 2
const MOST_MEGABYTES = 1024

export type AskTraffic = <Ask extends TrafficQuestion>(
  ask: Ask,
  args: TrafficCall<Ask>['args'],
  signal?: AbortSignal,
) => Promise<TrafficAnswer<Ask>>

/**
 * Threads that go over past traffic: however much there is, the process goes on answering. A question ends with its
 * signal, as when nobody waits for the answer any more, and after half a minute.
 *
 * @param file - the thread, as it was built
 */
export function openTrafficThreads(file: string, databaseUrl: string, longest = LONGEST): AskTraffic {
  const pool = databaseThreads(file, databaseUrl, { threads: MOST_THREADS, megabytes: MOST_MEGABYTES })
  return async (ask, args, asked) => {
    const tooLong = AbortSignal.timeout(longest)
    const signal = asked ? AbortSignal.any([asked, tooLong]) : tooLong
    try {
      return valueOf((await pool.run({ ask, args }, { signal })) as ThreadReply) as never
    } catch (error) {
      if (error instanceof HttpProblem) throw error
      // Whoever has gone hears no answer.
      if (!signal.aborted) console.error(error)
      throw new HttpProblem(503, 'There is too much traffic to look at in time. Choose fewer pages, or try again.')
    }
  }
}
