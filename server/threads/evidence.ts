import { Tinypool } from 'tinypool'
import { connect } from '../database/connect'
import { isDatabaseAway } from '../database/isDatabaseAway'
import { createArchive } from '../services/evidence/archive'
import type { EvidenceReply, EvidenceTask } from '../services/evidence/askEvidence'
import { HttpProblem } from '../services/HttpProblem'

/** A thread that holds visits in memory and answers what is asked of them, one question after the other. */
const { databaseUrl } = Tinypool.workerData as { databaseUrl: string }
const archive = createArchive(connect(databaseUrl, 2).$client)

export default async function answer({ call, progress }: EvidenceTask): Promise<EvidenceReply> {
  const { siteId } = call
  const isGoingOn = () => progress.postMessage(null)
  isGoingOn()
  try {
    const value =
      call.wants === 'answer'
        ? await archive.answer(siteId, call.ask, call.question, isGoingOn)
        : await archive.statement(siteId, call.ask, call.question as never, isGoingOn)
    return { value }
  } catch (error) {
    if (error instanceof HttpProblem) return { problem: { status: error.status, message: error.message } }
    if (isDatabaseAway(error))
      return { problem: { status: 503, message: 'The database cannot be reached. Try again in a moment.' } }
    console.error(error)
    return { problem: { status: 500, message: 'The report could not be computed.' } }
  } finally {
    progress.close()
  }
}
