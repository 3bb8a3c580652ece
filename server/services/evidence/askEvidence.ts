import { Worker } from 'node:worker_threads'
import { HttpProblem } from '../HttpProblem'
import type { Asked, Questions } from './answers'
import type { Stated, StatedQuestions } from './statements'

/** What is asked of the thread that holds visits in memory, and what it replies. */
export type EvidenceCall = { number: number; siteId: number } & (
  | { wants: 'answer'; ask: Asked; question: Questions[Asked]['question'] }
  | { wants: 'statement'; ask: Stated; question: StatedQuestions[Stated] }
)
export type EvidenceReply = { number: number } & (
  { value: unknown } | { problem: Pick<HttpProblem, 'status' | 'message'> }
)

type DistributedOmit<Any, Key extends PropertyKey> = Any extends unknown ? Omit<Any, Key> : never

/** Longer than this, and whoever asked is told to ask for less. */
const MOST_MILLISECONDS = 120_000

export interface EvidenceThread {
  ask: <Ask extends Asked>(
    siteId: number,
    ask: Ask,
    question: Questions[Ask]['question'],
  ) => Promise<Questions[Ask]['answer']>
  statement: <Ask extends Stated>(siteId: number, ask: Ask, question: StatedQuestions[Ask]) => Promise<string>
}

/**
 * A thread of its own for reports, so that nothing else waits for them. One that ends is started again with the next
 * question.
 *
 * @param file - the thread, as it was built
 */
export function openEvidenceThread(file: string, databaseUrl: string): EvidenceThread {
  const waiting = new Map<number, { done: (value: unknown) => void; failed: (problem: Error) => void }>()
  let thread: Worker | null = null
  let asked = 0

  function open(): Worker {
    const opened = new Worker(file, { workerData: { databaseUrl } })
    opened.on('message', (reply: EvidenceReply) => {
      const one = waiting.get(reply.number)
      waiting.delete(reply.number)
      if ('problem' in reply) one?.failed(new HttpProblem(reply.problem.status, reply.problem.message))
      else one?.done(reply.value)
    })
    opened.on('error', (error) => console.error(error))
    opened.on('exit', () => {
      if (thread !== opened) return
      thread = null
      for (const { failed } of waiting.values()) failed(new HttpProblem(503, 'The report was interrupted. Ask again.'))
      waiting.clear()
    })
    opened.unref()
    return opened
  }

  function call(wanted: DistributedOmit<EvidenceCall, 'number'>): Promise<unknown> {
    thread ??= open()
    const number = ++asked
    return new Promise((done, failed) => {
      const timer = setTimeout(() => {
        waiting.delete(number)
        failed(new HttpProblem(503, 'The report takes too long. Ask for fewer days, or try again.'))
      }, MOST_MILLISECONDS)
      const settle =
        <Value>(work: (value: Value) => void) =>
        (value: Value) => {
          clearTimeout(timer)
          work(value)
        }
      waiting.set(number, { done: settle(done), failed: settle(failed) })
      thread!.postMessage({ number, ...wanted })
    })
  }

  return {
    ask: (siteId, ask, question) => call({ wants: 'answer', siteId, ask, question }) as never,
    statement: (siteId, ask, question) => call({ wants: 'statement', siteId, ask, question }) as Promise<string>,
  }
}
