import { isDatabaseAway } from '../database/isDatabaseAway'
import { HttpProblem } from './HttpProblem'

/** What comes back from a thread or a process: errors lose their kind on the way. */
export type ThreadReply = { value: unknown } | { problem: Pick<HttpProblem, 'status' | 'message'> }

/** Does work in a thread, and makes an answer of what it gives or throws. */
export async function replyOf(work: () => Promise<unknown>): Promise<ThreadReply> {
  try {
    return { value: await work() }
  } catch (error) {
    if (error instanceof HttpProblem) return { problem: { status: error.status, message: error.message } }
    if (isDatabaseAway(error))
      return { problem: { status: 503, message: 'The database cannot be reached. Try again in a moment.' } }
    console.error(error)
    return { problem: { status: 500, message: 'It could not be computed. Look at the server’s log.' } }
  }
}

/** @throws HttpProblem where the work has thrown */
export function valueOf(reply: ThreadReply): unknown {
  if ('problem' in reply) throw new HttpProblem(reply.problem.status, reply.problem.message)
  return reply.value
}
