import { MessageChannel, type MessagePort } from 'node:worker_threads'
import { databaseThreads } from '../databaseThreads'
import { HttpProblem } from '../HttpProblem'
import { valueOf, type ThreadReply } from '../threadReply'
import type { Asked, Questions } from './answers'
import type { Stated, StatedQuestions } from './statements/statements'

/** What is asked of the thread that holds visits in memory. */
export type EvidenceCall = { siteId: number } & (
  | { wants: 'answer'; ask: Asked; question: Questions[Asked]['question'] }
  | { wants: 'statement'; ask: Stated; question: StatedQuestions[Stated] }
)
export interface EvidenceTask {
  call: EvidenceCall
  /** Is told when the question's turn has come, and each time that more of the site has been read. */
  progress: MessagePort
}

/** A question that takes longer than this ends the thread: nobody else's is to wait for it. */
const LONGEST_QUESTION = 60_000
/** Whoever waits longer than this for their turn is told to try again. */
const LONGEST_WAIT = 120_000

export interface EvidenceThread {
  call: (wanted: EvidenceCall) => Promise<unknown>
  ask: <Ask extends Asked>(
    siteId: number,
    ask: Ask,
    question: Questions[Ask]['question'],
  ) => Promise<Questions[Ask]['answer']>
  statement: <Ask extends Stated>(siteId: number, ask: Ask, question: StatedQuestions[Ask]) => Promise<string>
}

/**
 * A thread of its own for reports, so that nothing else waits for them. It is asked one question after the other. One
 * whose question outlives its time, or that breaks, is ended; the next question is asked of a new one.
 *
 * @param file - the thread, as it was built
 * @param most - the longest that one question may take, in ms
 */
export function openEvidenceThread(file: string, databaseUrl: string, most = LONGEST_QUESTION): EvidenceThread {
  const pool = databaseThreads(file, databaseUrl, { threads: 1 })

  async function call(wanted: EvidenceCall): Promise<unknown> {
    const { port1: told, port2: progress } = new MessageChannel()
    const ending = new AbortController()
    const giveUp = (why: string) => ending.abort(new HttpProblem(503, why))
    let timer = setTimeout(() => giveUp('The report is not ready yet. Try again in a moment.'), LONGEST_WAIT)
    // Reading what a site ever saw takes as long as there is much of it, and is done once.
    told.on('message', () => {
      clearTimeout(timer)
      timer = setTimeout(() => giveUp('The report takes too long. Ask for fewer days.'), most)
    })
    try {
      const task: EvidenceTask = { call: wanted, progress }
      return valueOf((await pool.run(task, { transferList: [progress], signal: ending.signal })) as ThreadReply)
    } catch (error) {
      if (error instanceof HttpProblem) throw error
      if (ending.signal.aborted) throw ending.signal.reason
      console.error(error)
      throw new HttpProblem(503, 'The report was interrupted. Ask again.')
    } finally {
      clearTimeout(timer)
      told.close()
    }
  }

  return evidenceOf(call)
}

/** Questions by their names, from what carries a call to where visits are held. */
export function evidenceOf(call: EvidenceThread['call']): EvidenceThread {
  return {
    call,
    ask: (siteId, ask, question) => call({ wants: 'answer', siteId, ask, question }) as never,
    statement: (siteId, ask, question) => call({ wants: 'statement', siteId, ask, question }) as Promise<string>,
  }
}
