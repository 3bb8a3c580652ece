import { Tinypool } from 'tinypool'
import { connect } from '../database/connect'
import { createArchive } from '../services/evidence/archive'
import type { EvidenceTask } from '../services/evidence/askEvidence'
import { replyOf, type ThreadReply } from '../services/threadReply'

/** A thread that holds visits in memory and answers what is asked of them, one question after the other. */
const { databaseUrl } = Tinypool.workerData as { databaseUrl: string }
const archive = createArchive(connect(databaseUrl, 2).$client)

export default async function answer({ call, progress }: EvidenceTask): Promise<ThreadReply> {
  const { siteId } = call
  const isGoingOn = () => progress.postMessage(null)
  isGoingOn()
  const reply = await replyOf(() =>
    call.wants === 'answer'
      ? archive.answer(siteId, call.ask, call.question, isGoingOn)
      : archive.statement(siteId, call.ask, call.question as never, isGoingOn),
  )
  progress.close()
  return reply
}
