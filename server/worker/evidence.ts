import { parentPort, workerData } from 'node:worker_threads'
import { connect } from '../database/connect'
import { isDatabaseAway } from '../database/isDatabaseAway'
import { createArchive } from '../services/evidence/archive'
import type { EvidenceCall, EvidenceReply } from '../services/evidence/askEvidence'
import { HttpProblem } from '../services/HttpProblem'

/** A thread that holds visits in memory and answers what is asked of them, one question after the other. */
const { databaseUrl } = workerData as { databaseUrl: string }
const archive = createArchive(connect(databaseUrl, 2).$client)
const port = parentPort!
let last: Promise<void> = Promise.resolve()

port.on('message', (call: EvidenceCall) => {
  last = last.then(async () => port.postMessage(await replyTo(call)))
})

async function replyTo(call: EvidenceCall): Promise<EvidenceReply> {
  const { number, siteId } = call
  const onPortion = () => port.postMessage({ number, isReading: true } satisfies EvidenceReply)
  try {
    const value =
      call.wants === 'answer'
        ? await archive.answer(siteId, call.ask, call.question, onPortion)
        : await archive.statement(siteId, call.ask, call.question as never, onPortion)
    return { number, value }
  } catch (error) {
    if (error instanceof HttpProblem) return { number, problem: { status: error.status, message: error.message } }
    if (isDatabaseAway(error))
      return { number, problem: { status: 503, message: 'The database cannot be reached. Try again in a moment.' } }
    console.error(error)
    return { number, problem: { status: 500, message: 'The report could not be computed.' } }
  }
}
