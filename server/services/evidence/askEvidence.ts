import { Worker } from 'node:worker_threads'
import { HttpProblem } from '../HttpProblem'
import type { Asked, Questions } from './answers'
import type { Stated, StatedQuestions } from './statements/statements'

/** What is asked of the thread that holds visits in memory, and what it replies. */
export type EvidenceCall = { number: number; siteId: number } & (
  | { wants: 'answer'; ask: Asked; question: Questions[Asked]['question'] }
  | { wants: 'statement'; ask: Stated; question: StatedQuestions[Stated] }
)
export type EvidenceReply = { number: number } & (
  { value: unknown } | { problem: Pick<HttpProblem, 'status' | 'message'> } | { isReading: true }
)

type DistributedOmit<Any, Key extends PropertyKey> = Any extends unknown ? Omit<Any, Key> : never

/** A question that takes longer than this ends the thread: nobody else's is to wait for it. */
const LONGEST_QUESTION = 60_000
/** Whoever waits longer than this for their turn and the answer is told to try again. */
const LONGEST_WAIT = 120_000

export interface EvidenceThread {
  ask: <Ask extends Asked>(
    siteId: number,
    ask: Ask,
    question: Questions[Ask]['question'],
  ) => Promise<Questions[Ask]['answer']>
  statement: <Ask extends Stated>(siteId: number, ask: Ask, question: StatedQuestions[Ask]) => Promise<string>
}

/** A question, from when it is asked until it is answered or given up. */
interface Question {
  call: EvidenceCall
  done: (value: unknown) => void
  failed: (problem: Error) => void
}

/**
 * A thread of its own for reports, so that nothing else waits for them. It is asked one question after the other. One
 * whose question outlives its time, or that breaks, is ended; the next question is asked of a new one.
 *
 * @param file - the thread, as it was built
 * @param most - the longest that one question may take, in ms
 */
export function openEvidenceThread(file: string, databaseUrl: string, most = LONGEST_QUESTION): EvidenceThread {
  const queue: Question[] = []
  let thread: Worker | null = null
  let running: { question: Question; timer: NodeJS.Timeout } | null = null
  let asked = 0

  function open(): Worker {
    const opened = new Worker(file, { workerData: { databaseUrl } })
    opened.on('message', (reply: EvidenceReply) => {
      if (reply.number !== running?.question.call.number) return
      // Reading what a site ever saw takes as long as there is much of it, and is done once.
      if ('isReading' in reply) return void running.timer.refresh()
      const { done, failed } = finish()
      if ('problem' in reply) failed(new HttpProblem(reply.problem.status, reply.problem.message))
      else done(reply.value)
      askNext()
    })
    opened.on('error', (error) => console.error(error))
    opened.on('exit', () => {
      if (thread === opened) giveUp('The report was interrupted. Ask again.')
    })
    opened.unref()
    return opened
  }

  function finish(): Question {
    const { question, timer } = running!
    clearTimeout(timer)
    running = null
    return question
  }

  /** Ends the thread with the question that it is at, and goes on with the others. */
  function giveUp(why: string): void {
    const ended = thread
    thread = null
    void ended?.terminate()
    if (running) finish().failed(new HttpProblem(503, why))
    askNext()
  }

  function askNext(): void {
    if (running) return
    const question = queue.shift()
    if (!question) return
    thread ??= open()
    const timer = setTimeout(() => giveUp('The report takes too long. Ask for fewer days.'), most)
    running = { question, timer }
    thread.postMessage(question.call)
  }

  function call(wanted: DistributedOmit<EvidenceCall, 'number'>): Promise<unknown> {
    return new Promise((resolve, reject) => {
      const patience = setTimeout(() => {
        const place = queue.indexOf(question)
        if (place >= 0) queue.splice(place, 1)
        reject(new HttpProblem(503, 'The report is not ready yet. Try again in a moment.'))
      }, LONGEST_WAIT)
      const settle =
        <Value>(work: (value: Value) => void) =>
        (value: Value) => {
          clearTimeout(patience)
          work(value)
        }
      const question: Question = {
        call: { number: ++asked, ...wanted },
        done: settle(resolve),
        failed: settle(reject),
      }
      queue.push(question)
      askNext()
    })
  }

  return {
    ask: (siteId, ask, question) => call({ wants: 'answer', siteId, ask, question }) as never,
    statement: (siteId, ask, question) => call({ wants: 'statement', siteId, ask, question }) as Promise<string>,
  }
}
